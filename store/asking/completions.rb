# frozen_string_literal: true

module Northdrift
  module Store
    # Suggestions while a find text is typed, from the kinds and from the newest lines.
    module Completions
      MOST = 40
      # So many of the newest lines are looked through for words and values.
      SAMPLE = 4000
      SHORTEST_WORD = 3

      module_function

      # @param prefix [String]
      # @return [Array<Hash>] "text", "kind" (field, machine, service, word) and "count"
      def words(prefix)
        kinds = Kinds.current
        names = [
          ["field", kinds.field_names.to_a + Find::FieldNames::BUILT_IN], ["machine", kinds.filter_map(&:machine)],
          ["service", kinds.filter_map(&:service)]
        ]
        found = names.flat_map do |kind, all|
          all.uniq.select { |name| fits?(name, prefix) }.sort.map { |name| { "text" => name, "kind" => kind } }
        end
        (found + frequent(prefix)).first(MOST)
      end

      # @param field [String]
      # @param prefix [String]
      # @return [Array<Hash>] "text", "kind" (value) and "count" among the newest lines
      def values(field, prefix)
        if field == "severity"
          names = Severity::NAMES.select { |name| fits?(name, prefix) }
          return names.map { |name| { "text" => name, "kind" => "value" } }
        end

        kinds = Kinds.current
        constants = kinds.flat_map { |kind| Array(kind.constants[field]) } + said(field)
        with = kinds.select { |kind| kind.index(field) }
        sampled =
          if with.empty?
            []
          else
            sample(Condition.new(kinds: with.to_set(&:id))).filter_map { |event| event.fields[field]&.to_s }
          end
        tally(constants.uniq + sampled, prefix, "value")
      end

      # What is known of machines that never wrote a line, too.
      def said(field)
        fleet = Fleet.current.said
        field == "host.name" ? fleet.keys : fleet.values.flat_map { |own| Array(own[field]) }
      end
      private_class_method :said

      def frequent(prefix)
        return [] if prefix.length < 2

        words = sample(Condition::EVERYTHING).flat_map { |event| Find::Words.tokens(event.message).uniq }
        tally(words.select { |word| word.length >= SHORTEST_WORD && !word.match?(/\A\d/) }, prefix, "word")
      end
      private_class_method :frequent

      def tally(texts, prefix, kind)
        texts.select { |text| fits?(text, prefix) }.tally.sort_by { |text, n| [-n, text] }.first(MOST)
          .map { |text, n| { "text" => Text.display(text), "kind" => kind, "count" => n } }
      end
      private_class_method :tally

      def fits?(text, prefix) = text.downcase.start_with?(prefix.downcase)
      private_class_method :fits?

      def sample(condition)
        first, last = Span.all
        access = Access.new(condition & Sight.condition, EventId.first(first), EventId.first(last),
                            share: Counts.method(:share))
        Database
          .rows(
            "SELECT #{StoredEvent::COLUMNS} #{access.parts(row: true).join(' ')} ORDER BY #{access.id} DESC LIMIT " \
            "#{SAMPLE}",
            access.binds
          )
          .map { |row| StoredEvent.new(row, Kinds.current) }
      end
      private_class_method :sample
    end
  end
end
