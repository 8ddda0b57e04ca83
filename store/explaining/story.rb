# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # The logbook as it is read: narrowed, counted by day and kind, with request and outcome of one operation as one.
    class Story
      DAY = "(event_id >> #{EventId::TIME_BITS}) / #{86_400_000_000 / EventId::MILLISECOND}".freeze
      # An outcome is told with its request, where that is there.
      WHOLE =
        "(phase IS NULL OR phase = 'request' OR NOT EXISTS (SELECT 1 FROM happenings AS asked WHERE asked.operation " \
        "= happenings.operation AND asked.phase = 'request'))"

      # @!attribute happening [Happenings::Kept]
      # @!attribute outcome [Happenings::Kept, nil] of its operation
      Entry = Struct.new(:happening, :outcome) do
        # @return [Integer, nil] microseconds that the operation took
        def took_us = outcome && (outcome.time_us - happening.time_us)
      end

      # @param kinds [Array<String>] all when there are none
      # @param machines [Array<String>, nil] nil for all
      # @param person [String, nil]
      # @param text [String] that the words hold, whatever its case
      # @param least [Integer, nil] severity; what is less bad is left out
      def initialize(from_us: nil, to_us: nil, kinds: [], machines: nil, person: nil, text: "", least: nil)
        @kinds = kinds
        parts = {
          "event_id >= ?" => from_us && EventId.first(from_us), "event_id < ?" => to_us && EventId.first(to_us),
          "severity <= ?" => least, "person = ?" => person
        }.compact.to_a
        parts << ["machine IN (SELECT value FROM json_each(?))", [Oj.dump(machines, mode: :strict)]] if machines
        parts << said(text) unless text.empty?
        parts << [WHOLE, []]
        @where = parts.map(&:first).join(" AND ")
        @binds = parts.flat_map { |_, values| values }
      end

      # @param most [Integer] the latest so many
      # @return [Array<Entry>] in order of time
      def entries(most: 500)
        where, binds = narrowed
        found = Happenings.rows(where, binds, order: "DESC", limit: most).reverse
        asked = found.select { |one| one.phase == "request" }.map(&:operation)
        outcomes =
          asked
            .each_slice(500)
            .flat_map { |some| Happenings.rows("operation IN (#{Happenings.marks(some)}) AND phase = 'outcome'", some) }
            .group_by(&:operation)
        found.map { |one| Entry.new(one, one.phase == "request" ? outcomes.fetch(one.operation, []).last : nil) }
      end

      # @return [Integer]
      def total = days.values.sum { |by| by.values.sum }

      # @return [Hash{Integer=>Hash{Integer=>Integer}}] happenings by day since 1970 and severity
      def days
        @days ||= begin
          where, binds = narrowed
          Database
            .rows("SELECT #{DAY}, severity, count(*) FROM happenings WHERE #{where} GROUP BY 1, 2", binds)
            .each_with_object({}) { |(day, severity, n), days| (days[day] ||= {})[severity] = n }
        end
      end

      # @return [Hash{String=>Integer}] how many of each kind there are, whatever kinds are asked for
      def kinds = Database.rows("SELECT kind, count(*) FROM happenings WHERE #{@where} GROUP BY kind", @binds).to_h

      # @return [Hash{String=>Integer}] how many of each person there are, the commonest first
      def persons
        where, binds = narrowed
        Database.rows(
          "SELECT person, count(*) FROM happenings WHERE #{where} AND person IS NOT NULL GROUP BY person ORDER BY 2 " \
          "DESC LIMIT 200",
          binds
        ).to_h
      end

      private

      def narrowed
        @kinds.empty? ? [@where, @binds] : ["#{@where} AND kind IN (#{Happenings.marks(@kinds)})", [*@binds, *@kinds]]
      end

      def said(text)
        like = "%#{text.gsub(/[\\%_]/) { |sign| "\\#{sign}" }}%"
        ["(says LIKE ? ESCAPE '\\' OR coalesce(machine, '') LIKE ? ESCAPE '\\')", [like, like]]
      end
    end
  end
end
