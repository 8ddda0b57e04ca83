# frozen_string_literal: true

module Northdrift
  module Store
    # What somebody wants to see of something unusual: how it went hour by hour, who it comes from, some of its lines.
    class OddityCourse
      HOURS_BEFORE = 14 * 24
      HOURS_AFTER = 24

      # @param oddity [Oddity]
      def initialize(oddity)
        @oddity = oddity
        @last = (oddity.last_us / Rollup::HOUR) + HOURS_AFTER
        @first = [(oddity.from_us / Rollup::HOUR) - HOURS_BEFORE, Span.all.first / Rollup::HOUR].max
      end

      # @return [Array<Array(Integer, Integer)>] hours since 1970 that have lines, and how many
      def hours
        return by_template if @oddity.pattern_id
        return [] if @oddity.field

        by_kind
      end

      # @return [Array<String>]
      def machines
        return [@oddity.machine].compact unless @oddity.pattern_id

        UnusualSeries.new(@first..@last).voices_of(KnownPatterns.current.now(@oddity.pattern_id)).map(&:machine).uniq
      end

      # @return [Array<Source>] where its lines come from
      def sources
        table, column, ids =
          if @oddity.pattern_id
            ["appearances", "template_id", KnownPatterns.current.templates(@oddity.pattern_id)]
          else
            ["kind_sources", "kind_id", Kinds.current.select { |one| of?(one) }.map(&:id)]
          end
        found = Database.rows("SELECT DISTINCT source_id FROM #{table} WHERE #{column} IN (#{ids.join(',')})").flatten
        Source.where(id: found).order(:name).to_a
      end

      # Of what is less there may be none then, and those before tell what is missing.
      # @param most [Integer]
      # @return [Array<StoredEvent>] the latest
      def lines(most)
        from_us = @oddity.kind == "less" ? nil : @oddity.from_us
        Question.new(find: @oddity.find, from_us: from_us, to_us: @oddity.last_us + 1, checked: false)
          .page(last: true, limit: most).events
      end

      private

      def by_template
        ids = KnownPatterns.current.templates(@oddity.pattern_id).join(",")
        Database.rows("SELECT hour, sum(n) FROM template_counts WHERE template_id IN (#{ids}) AND hour BETWEEN ? AND " \
                      "? GROUP BY 1 ORDER BY 1", [@first, @last])
      end

      def by_kind
        ids = Kinds.current.select { |one| of?(one) }.map(&:id).join(",")
        slots = UnusualSeries::SLOTS
        Database.rows("SELECT slot / #{slots}, sum(n) FROM kind_counts WHERE kind_id IN (#{ids}) AND slot >= ? AND " \
                      "slot < ? GROUP BY 1 ORDER BY 1", [@first * slots, (@last + 1) * slots])
      end

      def of?(kind) = kind.machine == @oddity.machine && (@oddity.service.nil? || kind.service == @oddity.service)
    end
  end
end
