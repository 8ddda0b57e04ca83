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
      OPENED = [
        # what was opened, and what belongs to it then
        [
          /Traceback \(most recent call last\):/,
          /\A[A-Za-z_][\w.]*(?:Error|Exception|Warning|Exit|Interrupt|Stop\w*)?(?::\s|\z)/
        ], [/^goroutine \d+ \[/, /\A[\w.\/*()-]+\.[\w.()*{}-]+\(.*\)\z/]
      ].freeze
      THROWN = /\A(?:[a-z_]\w{0,40}\.){1,10}[A-Z]\w{0,80}(?:Exception|Error|Throwable)(?::\s|\z)/
      REACH = 65_536
      CLOSE = /\A([}\])])[}\]),;]*\z/
      # As String#count has them.
      PAIR = { "}" => "{", ")" => "(", "]" => "[" }.freeze

      module_function

      # @param line [String] a line that no reader recognised
      # @param before [String] the text of the record so far
      # @return [Boolean] whether the line goes on with that record
      def continues?(line, before)
        return true if CONTINUES.match?(line) || closes?(line, before)
        return false unless before.include?("\n")

        text = before.byteslice(0, REACH)
        OPENED.any? { |opening, following| following.match?(line) && opening.match?(text) }
      end

      # @param line [String]
      # @return [Boolean] whether it is an exception's name alone, or with what it says
      def thrown?(line) = THROWN.match?(line)

      # The end of a block that the record has opened.
      def closes?(line, before)
        close = CLOSE.match(line) or return false
        text = before.byteslice(0, REACH)
        text.count(PAIR[close[1]]) > text.count(close[1])
      end
      private_class_method :closes?
    end
  end
end
