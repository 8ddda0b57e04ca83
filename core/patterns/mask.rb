# frozen_string_literal: true

require "re2"

module Northdrift
  module Patterns
    # The template of a message: its words as they stand, and an open place for whatever is of one occurrence only:
    # numbers, addresses, identifiers, paths, names of hosts, files and users, quoted texts and the values of key=value
    # pairs. It depends on the message alone, so that it is the same whenever and wherever a line is read.
    module Mask
      OPEN = "…"
      # Only the first line, and so much of it, tells what kind of message it is.
      REACH = 400

      # The number that a program gives its message, at its start: the one thing with digits that stands. Eight or more
      # hexadecimal digits are an identifier, such as a mail's in its queue.
      CODE = /\A(?![A-F\d]{8,}:)[A-Z]{2,12}[-_]?\d{2,6}[A-Z]?:(?= |\z)/

      CAPITALS = (65..90)

      # RE2 finds all of it in one pass. What holds a digit is open as a whole, with all that stands around it without a
      # break; so is a path, what stands in quotes or angle brackets, and a name with a dot, a colon or an at sign in
      # it.
      VARIABLE = RE2::Regexp.new(<<~'RE2'.delete("\n "), utf8: false)
        "[^"]*"
        |<[^<>\s]*>
        |/[^\s,;:()\[\]{}"'<>|=]*/[^\s,;:()\[\]{}"'<>|=]*
        |[^\s,;:()\[\]{}"'<>|=/]*[0-9][^\s,;()\[\]{}"'<>|=]*
        |[^\s,;:.@()\[\]{}"'<>|=/]+(?:[.:@][^\s,;:.@()\[\]{}"'<>|=/]+)+
      RE2
      # What a rule keeps of the text that it opens.
      KEPT = "\\1#{OPEN}\\2".freeze
      # Rules that go by what stands before or after: each is tried where its mark is found.
      # @!visibility private
      Rule = Struct.new(:mark, :pattern, :replacement)
      RULES = [
        Rule.new("=", "(=)(?:\\([^\\s()]*\\)|[^\\s,;()\\[\\]{}\"'<>|=…]+)()", KEPT),
        Rule.new(" /", "( )/[^\\s,;:()\\[\\]{}\"'<>|=…]*()", KEPT),
        Rule.new("'", "(^|[\\s=(:,])'[^']*'([\\s),.:;]|$)", KEPT),
        Rule.new("[", "([A-Za-z_]\\[)[^\\]\\s]*(\\])", KEPT),
        Rule.new("user ", "(\\buser )[^\\s,;:()\\[\\]]+()", KEPT),
        Rule.new(" from", "(\\b(?:for|by) )[^\\s,;:()\\[\\]]+( from\\b)", KEPT),
        # What was asked of a program is not the program's own wording.
        Rule.new(": ", "((?i:\\b(?:statement|query|command|sql)): ).+()", KEPT),
        # Lists are of any length.
        Rule.new("#{OPEN} #{OPEN}".b, "(#{OPEN})(?: #{OPEN})+()", "\\1\\2")
      ].each do |rule|
        rule.mark = rule.mark.b.freeze
        rule.pattern = RE2::Regexp.new(rule.pattern, utf8: false, log_errors: false)
      end.freeze

      # Texts whose templates are remembered.
      REMEMBERED = 5000

      @ruled = {}

      module_function

      # @param message [String] bytes
      # @return [String] bytes, not to be changed
      def template(message)
        line = first_line(message)
        return masked(line) unless CAPITALS.cover?(line.getbyte(0)) && CODE.match?(line)

        code = line[CODE]
        code.b << masked(line.byteslice(code.bytesize, line.bytesize))
      end

      # @return [String] so much of the message as its template is made of
      def first_line(message) = message.bytesize > REACH || message.include?("\n") ? start(message) : message

      # Most lines are alike once their variables are taken out: what the rules make of them is remembered.
      def masked(line)
        text = RE2.GlobalReplace(line, VARIABLE, OPEN).force_encoding(Encoding::BINARY)
        @ruled[text] || begin
          @ruled.clear if @ruled.size >= REMEMBERED
          @ruled[text] = RULES
            .reduce(text) do |ruled, rule|
              if ruled.include?(rule.mark)
                RE2.GlobalReplace(ruled, rule.pattern, rule.replacement).force_encoding(Encoding::BINARY)
              else
                ruled
              end
            end
            .freeze
        end
      end
      private_class_method :masked

      # Cut between words: half a word would be one that no line has.
      def start(message)
        line = message.byteslice(0, message.index("\n") || message.bytesize)
        return line if line.bytesize <= REACH

        line = line.byteslice(0, REACH)
        line.byteslice(0, line.rindex(" ") || 0)
      end
      private_class_method :start
    end
  end
end
