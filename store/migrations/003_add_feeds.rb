# frozen_string_literal: true

class AddFeeds < ActiveRecord::Migration[7.2]
  def up
    # Where lines come in by themselves: listeners, followed paths, commands.
    create_table :feeds do |t|
      t.string :name, null: false
      t.string :kind, null: false
      t.text :settings, null: false, default: "{}"
      t.boolean :paused, null: false, default: false
      # What stands in its way at present.
      t.string :problem
      # Lines that the system threw away before they could be taken (UDP).
      t.integer :lost, null: false, default: 0
      t.integer :refused, null: false, default: 0
      t.integer :created_us, null: false
      t.integer :deleted_us
    end
    add_column :sources, :feed_id, :bigint
    add_index :sources, :feed_id
    # Events by reader.
    add_column :sources, :readers, :text, null: false, default: "{}"
    # Lines that came again and were not taken twice.
    add_column :sources, :repeated, :integer, null: false, default: 0

    # What came in, minute by minute of the receive time.
    execute <<~SQL
      CREATE TABLE arrivals (
        source_id INTEGER, minute INTEGER, lines INTEGER NOT NULL, bytes INTEGER NOT NULL, unread INTEGER NOT NULL, timed INTEGER NOT NULL, lag_ms INTEGER NOT NULL,
        PRIMARY KEY (source_id, minute)
      ) WITHOUT ROWID
    SQL
    # Deliveries that were acknowledged, by what their sender calls them: one that comes again is not taken twice.
    execute "CREATE TABLE deliveries (name TEXT PRIMARY KEY, lines INTEGER NOT NULL, at_us INTEGER NOT NULL) WITHOUT " \
            "ROWID"
    execute "CREATE INDEX deliveries_at ON deliveries (at_us)"
  end

  def down
    %i[feed_id readers repeated].each { |column| remove_column :sources, column }
    %i[feeds arrivals deliveries].each { |table| drop_table table }
  end
end
