# frozen_string_literal: true

require "strscan"

module Northdrift
  module Find
    # Finds the fixed text that a regular expression cannot match without, so that an index can narrow the search before
    # the expression itself is tried. When in doubt it says less.
    module Literals
      ESCAPE = '\\\\[pP](?:\{[^}]*\}|.)|\\\\x\{[^}]*\}|\\\\x[0-9A-Fa-f]{2}|\\\\[0-7]{1,3}|\\\\Q.*?(?:\\\\E|\z)|\\\\.'
      CLASS = '\[\^?\]?(?:\\\\.|\[:\^?\w+:\]|[^\]\\\\])*\]'
      OTHER = /#{ESCAPE}|#{CLASS}/m
      SPECIAL = /[\\.\[\](){}*+?|^$]/

      OPEN_LENGTH = 4
      OPEN_END = /(?:(?!#{Words::TOKEN}).)(#{Words::TOKEN})\z/m

      module_function

      # @param pattern [String] RE2 syntax
      # @return [Array<String>] texts that every match holds, in order, each without a gap; case as written
      def required(pattern)
        # alternatives and flags: not worth the risk
        return [] if pattern.include?("|") || pattern.match?(/\(\?[^:)]*[is]/)

        runs = []
        run = +""
        scanner = StringScanner.new(pattern)
        until scanner.eos?
          piece = literal(scanner)
          if piece && !scanner.check(/[*?{+]/)
            run << piece
          else
            keep(runs, run)
            run = +""
            skip_other(scanner) unless piece
            # A repeated piece is there at least once only with +; it ends the run either way.
            scanner.skip(/[*?+]+|\{[^}]*\}\??/)
          end
        end
        keep(runs, run)
        runs
      end

      # @param text [String] one of the texts
      # @return [Array<String>] tokens that stand whole in every match: those with a separator on both sides within the
      #   text
      def whole_tokens(text)
        tokens = []
        text.scan(Words::TOKEN) do
          match = Regexp.last_match
          tokens << match[0].downcase if match.begin(0).positive? && match.end(0) < text.length
        end
        tokens
      end

      # @param text [String] one of the texts
      # @return [Array<String>] adjacent tokens of every match: those that stand whole, and at the end, with "*", one
      #   that may go on there, when it is long enough to tell much
      def tokens(text)
        whole = whole_tokens(text)
        open = text[OPEN_END, 1]
        open && open.length >= OPEN_LENGTH ? [*whole, "#{open.downcase}*"] : whole
      end

      def literal(scanner)
        if scanner.skip(/\\([^A-Za-z0-9])/) then scanner[1]
        elsif scanner.check(SPECIAL) then nil
        else scanner.getch
        end
      end
      private_class_method :literal

      def skip_other(scanner)
        return skip_group(scanner) if scanner.check(/\(/)

        scanner.skip(OTHER) || scanner.getch
      end
      private_class_method :skip_other

      def skip_group(scanner)
        depth = 0
        loop do
          if scanner.skip(/\\.|\[\^?\]?(?:\\.|\[:\^?\w+:\]|[^\]\\])*\]/m) then next
          elsif scanner.skip(/\(/) then depth += 1
          elsif scanner.skip(/\)/) then depth -= 1
          else scanner.getch
          end
          break if depth.zero? || scanner.eos?
        end
      end
      private_class_method :skip_group

      def keep(runs, run) = (runs << run if run.length > 1)
      private_class_method :keep
    end
  end
end
