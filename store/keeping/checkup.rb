# frozen_string_literal: true

module Northdrift
  module Store
    # Whether a database is whole, and tells of itself what is so.
    module Checkup
      COUNTS = %w[minute_counts kind_counts kind_hours template_counts].freeze
      # What is told of what is damaged.
      MOST = 5

      module_function

      # @param thorough [Boolean] whether all of it is read, and its full-text index too
      # @return [Array<String>] what is damaged
      # @raise [SQLite3::Exception] when so much is that it cannot even be looked at
      def damage(thorough: false)
        found = Database.rows("PRAGMA #{thorough ? 'integrity_check' : 'quick_check'}(#{MOST})").flatten
        # FTS5, "The 'integrity-check' Command": it raises.
        Database.rows("INSERT INTO lines(lines) VALUES ('integrity-check')") if thorough
        found - ["ok"]
      end

      # @return [Array(Integer, Array<String>)] lines that there are, and tables that count others
      def counts
        events = Database.value("SELECT count(*) FROM events")
        [events, COUNTS.reject { |table| Database.value("SELECT coalesce(sum(n), 0) FROM #{table}") == events }]
      end

      # @param time_us [Integer]
      # @return [Integer] lines of later minutes
      def later_than(time_us)
        Database.value("SELECT coalesce(sum(n), 0) FROM minute_counts WHERE minute > ?", [time_us / Rollup::MINUTE])
      end

      # @return [Array(Integer, Integer)] number of the form that the data has, and of the newest that is known
      def forms
        [
          Database.value("SELECT max(CAST(version AS INTEGER)) FROM schema_migrations"),
          Dir.children(Database::MIGRATIONS).map(&:to_i).max
        ]
      end
    end
  end
end
