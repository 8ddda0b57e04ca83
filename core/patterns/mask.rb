# frozen_string_literal: true

require "re2"

module Northdrift
  module Patterns
    # The template of a message: its words as they stand, and an open place for whatever is of one occurrence only:
    # numbers, addresses, identifiers, paths, quoted texts and the values of key=value pairs. It depends on the message
    # alone, so that it is the same whenever and wherever a line is read.
    module Mask
      OPEN = "…"
      # Only the first line, and so much of it, tells what kind of message it is.
      REACH = 400

      # RE2 finds all of it in one pass. What holds a digit is open as a whole, with all that stands around it without
      # a break; so is a path, and what stands in quotes.
      VARIABLE = RE2::Regexp.new(<<~'RE2'.delete("\n "), utf8: false)
        "[^"]*"
        |/[^\s,;:()\[\]{}"'<>|=]*/[^\s,;:()\[\]{}"'<>|=]*
        |[^\s,;:()\[\]{}"'<>|=/]*[0-9][^\s,;()\[\]{}"'<>|=]*
      RE2
      VALUE = RE2::Regexp.new('=[^\s,;()\[\]{}"\'<>|=…]+', utf8: false)
      EQUALS_OPEN = "=#{OPEN}".b.freeze

      module_function

      # @param message [String] bytes
      # @return [String] bytes
      def template(message)
        line = first_line(message)
        masked = RE2.GlobalReplace(line, VARIABLE, OPEN)
        masked = RE2.GlobalReplace(masked, VALUE, EQUALS_OPEN) if masked.include?("=")
        masked.force_encoding(Encoding::BINARY)
      end

      # @return [String] so much of the message as its template is made of
      def first_line(message) = message.bytesize > REACH || message.include?("\n") ? start(message) : message

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
