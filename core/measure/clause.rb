# frozen_string_literal: true

require "strscan"

module Northdrift
  module Measure
    # What is measured: `p95(duration_ms) by service.name, severity per 5 min top 8`.
    #
    # @!attribute aggregate [String] a key of {Aggregate::ALL}
    # @!attribute field [String, nil]
    # @!attribute by [Array<String>] up to two fields
    # @!attribute step_us [Integer, nil] size of a step of time; 0 for one that suits the window; nil for none
    # @!attribute top [Integer] groups that are told apart; the rest is "other"
    Clause = Struct.new(:aggregate, :field, :by, :step_us, :top)

    class Clause
      MOST_BY = 2
      TOP = 10
      MOST_TOP = 100
      # Names of fields as the find language has them: in quotes where they have other characters.
      WORD = /#{Find::Lexer::QUOTED}|[^\s(),]+/
      UNITS = {
        "s" => 1, "sec" => 1, "second" => 1, "min" => 60, "minute" => 60, "h" => 3600, "hour" => 3600, "d" => 86_400,
        "day" => 86_400, "week" => 604_800
      }.freeze

      # The clause cannot be understood.
      Mistake = Class.new(Find::Mistake)

      # @return [Aggregate::Way]
      def way = Aggregate::ALL.fetch(aggregate)

      # @return [Array<String>] fields that are looked at
      def fields = [field, *by].compact

      # @param text [String]
      # @param known [#call] gives the names of all fields
      # @raise [Mistake]
      def self.parse(text, known:) = Reading.new(text, known).clause

      # Reads the words of a clause one after another.
      class Reading
        def initialize(text, known)
          @text = text
          @scanner = StringScanner.new(text)
          @known = known
        end

        def clause
          aggregate, field = measured
          by = skip(/by\b/) ? groups : []
          step = skip(/per\b/) ? step_us : nil
          top = skip(/top\b/) ? top() : TOP
          @scanner.skip(/\s+/)
          unless @scanner.eos?
            mistake(
              "“#{@scanner.rest}” is not understood here; the order is: #{Aggregate::ALL.keys[2]}(field) by field " \
              "per 5 min top 10"
            )
          end
          Clause.new(aggregate, field, by, step, top)
        end

        private

        def skip(pattern) = @scanner.skip(/\s+/) && @scanner.skip(pattern) || @scanner.skip(pattern)

        def measured
          name = @scanner.skip(/\s*/) && @scanner.check(/\w+/).to_s
          way = Aggregate::ALL[name.downcase] or
            mistake("measured as what? One of #{Aggregate::ALL.keys.join(', ')}", name.size)
          @scanner.skip(/\w+/)
          return name.downcase unless way.field

          @scanner.skip(/\s*\(/) or mistake("#{name} is of a field: #{name}(duration_ms)")
          field = field()
          @scanner.skip(/\s*\)/) or mistake("a closing parenthesis is missing")
          [name.downcase, field]
        end

        def groups
          by = [field]
          by << field while @scanner.skip(/\s*,/)
          mistake("by no more than #{MOST_BY} fields") if by.size > MOST_BY
          by
        end

        def field
          @scanner.skip(/\s*/)
          typed = @scanner.check(WORD) or mistake("the name of a field is missing")
          wanted = typed.start_with?('"') ? Find::Lexer.unquote(typed) : typed
          name, near = Find::FieldNames.find(wanted, @known.call)
          mistake(Find::FieldNames.unknown(wanted, near), typed.size, near) unless name
          @scanner.skip(WORD)
          name
        end

        def step_us
          return 0 if skip(/auto\b/)

          @scanner.skip(/\s*/)
          match = @scanner.check(/(\d+(?:\.\d+)?)?\s*([a-z]+)/)
          unit = match && UNITS[@scanner[2].sub(/(?<=[a-z]{3})s\z/, "")]
          mistake("per what time? For example: per auto, per minute, per 5 min", match.to_s.size) unless unit
          step = ((@scanner[1] || 1).to_r * unit * Steps::SECOND).to_i
          mistake("a step of time is at least 0.01 s", match.size) if step < Steps::SIZES.first
          @scanner.skip(/(\d+(?:\.\d+)?)?\s*[a-z]+/)
          step
        end

        def top
          @scanner.skip(/\s*/)
          number = @scanner.check(/\d+/).to_i
          mistake("top how many? From 1 to #{MOST_TOP}", 1) unless (1..MOST_TOP).cover?(number)
          @scanner.skip(/\d+/)
          number
        end

        def mistake(message, length = 1, suggestion = nil)
          raise Mistake.new(
            message,
            column: @text.byteslice(0, @scanner.pos).length + 1, length: [length, 1].max, suggestion: suggestion
          )
        end
      end
      private_constant :Reading
    end
  end
end
