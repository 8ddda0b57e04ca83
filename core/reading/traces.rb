# frozen_string_literal: true

module Northdrift
  module Reading
    # The lines of stack traces that neither are indented nor carry a time. The shapes are those that the runtimes of
    # the languages print (common practice; the languages' manuals show examples).
    module Traces
      CONTINUES = /\A(?:
        # Java and its relatives
        Caused\sby:\s | Suppressed:\s | \.\.\.\s\d+\s(?:more|common\sframes) | at\s[\w$.<>]+\( |
        During\shandling\sof\sthe\sabove | The\sabove\sexception\swas |                            # Python
        Traceback\s\(most\srecent\scall\slast\): |
        ---\sEnd\sof\s | --->\s |                                                                  # C sharp
        goroutine\s\d+\s\[ | created\sby\s | exit\sstatus\s\d+\z | \[signal\s\w+ |                   # Go
        from\s\S+:\d+:in\s | stack\sbacktrace: | note:\srun\swith\s                                 # Ruby, Rust
      )/x
      # What is opened, and how lines look that belong to it then: the names of errors, and calls.
      OPENED = {
        /Traceback \(most recent call last\):/ => ->(line) { ERROR.match?(line) },
        /\Agoroutine \d+ \[/ => ->(line) { call?(line) }
      }.freeze
      ERROR = /\A[A-Za-z_][\w.]*+(?::\s|\z)/
      CALLED = /\A[\w.\/*(){}\[\]-]+\z/
      THROWN = /\A(?:[a-z_]\w{0,40}\.){1,10}[A-Z]\w{0,80}(?:Exception|Error|Throwable)(?::\s|\z)/
      REACH = 65_536
      CLOSE = /\A([}\])])[}\]),;]*\z/
      # As String#count has them.
      PAIR = { "}" => "{", ")" => "(", "]" => "[" }.freeze

      # What a record has opened so far; each of its lines is looked at once.
      class Seen
        # @return [Integer] lines
        attr_reader :lines

        # @param text [String] the record's lines
        def initialize(text)
          @size = @lines = 0
          @opened = {}
          @balance = Hash.new(0)
          text.each_line(chomp: true) { |line| push(line) }
        end

        # @param line [String] the next
        def push(line)
          @lines += 1
          return if @size > REACH

          near = line.bytesize > REACH ? line.byteslice(0, REACH) : line
          @size += near.bytesize + 1
          OPENED.each_key { |opening| @opened[opening] = true if !@opened[opening] && opening.match?(near) }
          PAIR.each { |close, open| @balance[close] += near.count(open) - near.count(close) }
        end

        # @param opening [Regexp] of {OPENED}
        def opened?(opening) = @opened.key?(opening)

        # @param close [String] a bracket
        # @return [Boolean] whether one of its kind is open
        def open?(close) = @balance[close].positive?
      end

      module_function

      # @param line [String] a line that no reader recognised
      # @param seen [Seen] of the record so far
      # @return [Boolean] whether the line goes on with that record
      def continues?(line, seen)
        return true if CONTINUES.match?(line) || closes?(line, seen)

        seen.lines > 1 && OPENED.any? { |opening, belongs| seen.opened?(opening) && belongs.call(line) }
      end

      # @param line [String]
      # @return [Boolean] whether it is an exception's name alone, or with what it says
      def thrown?(line) = THROWN.match?(line)

      # "main.(*Hall).open(0x1, 0x2)"
      def call?(line)
        stop = line.end_with?(")") && line.rindex("(")
        head = stop && line.byteslice(0, stop)
        head ? head.include?(".") && CALLED.match?(head) : false
      end

      # The end of a block that the record has opened.
      def closes?(line, seen)
        close = CLOSE.match(line)
        !close.nil? && seen.open?(close[1])
      end
      private_class_method :closes?
    end
  end
end
