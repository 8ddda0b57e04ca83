# frozen_string_literal: true

module Northdrift
  # What must hold of a database, whatever has been done to it.
  module Soundness
    MILLIS = "(id >> 11)"
    # How each table of counts comes about, said by the events alone: floor(), since SQL's own division rounds towards
    # nought.
    COUNTED = {
      "minute_counts" => "CAST(floor(#{MILLIS} / 60000.0) AS INTEGER)",
      "kind_counts" => "kind_id, CAST(floor(#{MILLIS} / 600000.0) AS INTEGER)",
      "kind_hours" => "kind_id, CAST(floor(#{MILLIS} / 3600000.0) AS INTEGER)",
      "template_counts" => "template_id, CAST(floor(#{MILLIS} / 3600000.0) AS INTEGER)",
    }.freeze

    def assert_sound
      assert_equal ["ok"], Store::Database.rows("PRAGMA integrity_check").flatten
      Store::Database.rows("INSERT INTO lines(lines) VALUES ('integrity-check')")
      COUNTED.each do |table, columns|
        groups = (1..columns.scan("_id").size + 2).to_a.join(", ")
        from_events = Store::Database.rows("SELECT #{columns}, id & 15, count(*) FROM events GROUP BY #{groups}")
        assert_equal from_events.sort, Store::Database.rows("SELECT * FROM #{table}").sort, table
      end
      # Not all minutes are counted by second; those that are, wholly.
      seconds =
        Store::Database.rows(
          "SELECT (id >> 11) / 1000, id & 15, count(*) FROM events WHERE (id >> 11) / 60000 IN (SELECT second / 60 " \
          "FROM second_counts) GROUP BY 1, 2"
        )
      assert_equal seconds.sort, Store::Database.rows("SELECT * FROM second_counts").sort
      assert_appearances
      assert_equal Store::Database.rows("SELECT id FROM events ORDER BY id").flatten, indexed
      ids =
        Store::Database
          .rows("SELECT source_id, min(id), max(id) FROM events GROUP BY 1")
          .to_h { |source, *ends| [source, ends] }
      blocks =
        Store::Database
          .rows("SELECT source_id, min(first_id), max(last_id) FROM source_blocks GROUP BY 1")
          .to_h { |source, *ends| [source, ends] }
      ids.each do |source, (first, last)|
        assert(blocks[source][0] <= first && blocks[source][1] >= last, "blocks of source #{source}")
      end
    end

    # Of kinds that no sight tells apart one stands for all; those of lines that are there no more stay.
    def assert_appearances
      voices =
        Store::Kinds.current.to_h { |one| [one.id, Store::Appearances.voice(one.machine, one.service, one.traits)] }
      together = %w[events appearances].map do |table|
        Store::Database.rows("SELECT DISTINCT kind_id, source_id, template_id FROM #{table}")
          .map { |kind, *rest| [voices[kind], *rest] }
      end
      assert_empty together.reduce(:-), "kinds, sources and templates that come together"
      kinds = %w[events kind_sources].map do |table|
        Store::Database.rows("SELECT DISTINCT kind_id, source_id FROM #{table}")
      end
      assert_empty kinds.reduce(:-), "kinds and sources that come together"
    end

    # @return [Array<Integer>] ids that the full-text index knows; each line has a mark of its machine, service or
    #   reader
    def indexed
      Store::Database.rows(
        "CREATE VIRTUAL TABLE IF NOT EXISTS temp.vocabulary USING fts5vocab('main', 'lines', 'instance')"
      )
      Store::Database.rows("SELECT DISTINCT doc FROM temp.vocabulary ORDER BY doc").flatten
    end
  end
end
