# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Views of a connection that stand before the tables of the same names, so that all that is asked on it stays within
    # a {Sight}. (SQLite, "Database Object Name Resolution": what is temporary is found first.) They can be read alone.
    module SightViews
      module_function

      KINDS = "SELECT id FROM temp.sight_kinds"
      WHOLE = "SELECT id FROM temp.sight_kinds WHERE whole"
      PAIRS = "SELECT kind_id, source_id FROM temp.sight_pairs"
      SEVERITY = "id & #{EventId::SEVERITY_MASK}".freeze
      # Of what {Appearances} has noted.
      NOTED = "one.kind_id IN (SELECT id FROM temp.sight_sure) OR (one.kind_id, one.source_id) IN " \
              "(SELECT kind_id, source_id FROM temp.sight_together)"
      # Templates that nobody else has are told by the counts; of others, lines are counted in the hours that have any.
      SHARED = "SELECT 1 FROM main.appearances AS one WHERE one.template_id = counts.template_id AND NOT " \
               "(#{NOTED})".freeze
      HOUR_IDS = Rollup::HOUR / EventId::MILLISECOND << EventId::TIME_BITS

      VIEWS = {
        "events" => "SELECT * FROM main.events WHERE kind_id IN (#{WHOLE})",
        "kinds" => "SELECT * FROM main.kinds WHERE id IN (#{KINDS})",
        "kind_counts" => "SELECT * FROM main.kind_counts WHERE kind_id IN (#{WHOLE})",
        "kind_hours" => "SELECT * FROM main.kind_hours WHERE kind_id IN (#{WHOLE})",
        "minute_counts" =>
          "SELECT #{Rollup::TABLES['minute_counts']} AS minute, #{SEVERITY} AS severity, count(*) AS n FROM events " \
          "GROUP BY 1, 2",
        "second_counts" => "SELECT * FROM main.second_counts WHERE false",
        "template_counts" => <<~SQL,
          SELECT template_id, hour, severity, n FROM main.template_counts AS counts WHERE NOT EXISTS (#{SHARED})
          UNION ALL
          SELECT counts.template_id, counts.hour, counts.severity, count(*) AS n FROM main.template_counts AS counts
          CROSS JOIN events ON events.template_id = counts.template_id
            AND events.id >= counts.hour * #{HOUR_IDS} AND events.id < (counts.hour + 1) * #{HOUR_IDS}
            AND events.#{SEVERITY} = counts.severity
          WHERE EXISTS (#{SHARED}) GROUP BY 1, 2, 3
        SQL
        "templates" =>
          "SELECT * FROM main.templates WHERE EXISTS (SELECT 1 FROM main.appearances AS one WHERE one.template_id = " \
          "templates.id AND (#{NOTED}))",
        "sources" =>
          "SELECT * FROM main.sources WHERE id IN (SELECT source_id FROM main.kind_sources WHERE kind_id IN " \
          "(#{WHOLE}) UNION SELECT source_id FROM temp.sight_pairs)",
        "happenings" =>
          "SELECT * FROM main.happenings WHERE CASE WHEN event_id & #{EventId::SEVERITY_MASK} = " \
          "#{EventId::SEVERITY_MASK} THEN machine IN (SELECT name FROM temp.sight_machines) ELSE EXISTS (SELECT 1 " \
          "FROM events WHERE id = event_id) END",
        "machines" => "SELECT * FROM main.machines WHERE name IN (SELECT name FROM temp.sight_machines)",
        "dependencies" =>
          "SELECT * FROM main.dependencies WHERE machine IN (SELECT name FROM temp.sight_machines) AND \"on\" IN " \
          "(SELECT name FROM temp.sight_machines)",
        "turned_away" => "SELECT * FROM main.turned_away WHERE machine IN (SELECT name FROM temp.sight_machines)"
      }.freeze
      # Where of some kinds only some sources are seen.
      APART = {
        "events" => "#{VIEWS['events']} OR (kind_id, source_id) IN (#{PAIRS})",
        "kind_counts" => <<~SQL,
          #{VIEWS['kind_counts']} UNION ALL
          SELECT kind_id, #{Rollup.number(Rollup::SLOT)} AS slot, #{SEVERITY} AS severity, count(*) AS n
          FROM main.events WHERE (kind_id, source_id) IN (#{PAIRS}) GROUP BY 1, 2, 3
        SQL
        "kind_hours" => <<~SQL
          #{VIEWS['kind_hours']} UNION ALL
          SELECT kind_id, #{Rollup.number(Rollup::HOUR)} AS hour, #{SEVERITY} AS severity, count(*) AS n
          FROM main.events WHERE (kind_id, source_id) IN (#{PAIRS}) GROUP BY 1, 2, 3
        SQL
      }.freeze
      TABLES = {
        "sight_kinds" => "id INTEGER PRIMARY KEY, whole INTEGER NOT NULL",
        "sight_pairs" => "kind_id INTEGER, source_id INTEGER, PRIMARY KEY (kind_id, source_id)",
        "sight_sure" => "id INTEGER PRIMARY KEY",
        "sight_together" => "kind_id INTEGER, source_id INTEGER, PRIMARY KEY (kind_id, source_id)",
        "sight_machines" => "name TEXT PRIMARY KEY, whole INTEGER NOT NULL"
      }.freeze

      # Makes what a connection sees that of its thread.
      # @param connection [SQLite3::Database]
      def match(connection)
        reach = Sight.current
        seen = connection.instance_variable_get(:@northdrift_sight)
        return if seen.equal?(reach)

        # Should it fail in the midst, the next one starts anew.
        connection.instance_variable_set(:@northdrift_sight, :broken)
        clear(connection) if seen
        put(connection, reach) if reach
        connection.instance_variable_set(:@northdrift_sight, reach)
      end

      def clear(raw)
        VIEWS.each_key { |name| raw.execute("DROP VIEW IF EXISTS temp.#{name}") }
        TABLES.each_key { |name| raw.execute("DROP TABLE IF EXISTS temp.#{name}") }
      end
      private_class_method :clear

      def put(raw, reach)
        TABLES.each { |name, columns| raw.execute("CREATE TEMP TABLE #{name} (#{columns}) WITHOUT ROWID") }
        kinds = reach.whole.map { |id| [id, 1] } + reach.pairs.map(&:first).uniq.map { |id| [id, 0] }
        fill(raw, "sight_kinds", 2, kinds)
        fill(raw, "sight_pairs", 2, reach.pairs)
        fill(raw, "sight_sure", 1, reach.sure.zip)
        fill(raw, "sight_together", 2, reach.together)
        whole = reach.whole_machines.to_set
        fill(raw, "sight_machines", 2, reach.machines.map { |name| [name, whole.include?(name) ? 1 : 0] })
        views = reach.pairs.empty? ? VIEWS : VIEWS.merge(APART)
        views.each { |name, sql| raw.execute("CREATE TEMP VIEW #{name} AS #{sql}") }
      end
      private_class_method :put

      def fill(raw, table, columns, rows)
        values = Array.new(columns) { |at| "json_extract(value, '$[#{at}]')" }.join(", ")
        raw.execute("INSERT INTO temp.#{table} SELECT #{values} FROM json_each(?)", [Oj.dump(rows, mode: :strict)])
      end
      private_class_method :fill
    end
  end
end
