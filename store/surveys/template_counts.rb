# frozen_string_literal: true

module Northdrift
  module Store
    # Counts rows by template, severity and step of time, and the machines that each template comes from.
    class TemplateCounts
      # Room for steps and severities in the number that rows are grouped by.
      STEPS = 64
      SEVERITIES = 16

      # @param access [Access] the rows
      # @param kinds [Kinds]
      def initialize(access, kinds)
        @access = access
        @kinds = kinds
      end

      # @return [Array(Hash, Hash)] see {Question#template_counts}
      def count(start_us, step_us)
        return [{}, {}] if @kinds.none?

        table, where = @access.parts(row: true)
        step =
          "min((((events.id >> #{EventId::TIME_BITS}) - #{start_us / EventId::MILLISECOND}) / " \
          "#{[step_us / EventId::MILLISECOND, 1].max}), #{STEPS - 1})"
        key = "(events.template_id * #{SEVERITIES} + (events.id & #{EventId::SEVERITY_MASK})) * #{STEPS} + #{step}"
        counts =
          Database
            .rows("SELECT #{key}, count(*), min(events.id), max(events.id) #{table} #{where} GROUP BY 1", @access.binds)
            .to_h do |number, n, first, last|
              rest, at = number.divmod(STEPS)
              [[rest / SEVERITIES, rest % SEVERITIES, at], [n, first, last]]
            end
        [counts, machines(table, where)]
      end

      private

      def machines(table, where)
        names = @kinds.map(&:machine).uniq
        numbers = names.each_with_index.to_h
        Lanes.tell(@kinds.to_h { |kind| [kind.id, numbers[kind.machine]] })
        found = {}
        Database
          .rows(
            "SELECT DISTINCT events.template_id * #{names.size} + lanes.lane #{table} JOIN temp.lanes ON lanes.kind " \
            "= events.kind_id #{where}",
            @access.binds
          )
          .each do |(number)|
            template, lane = number.divmod(names.size)
            (found[template] ||= []) << names[lane]
          end
        found
      end
    end
  end
end
