# frozen_string_literal: true

class AddRereads < ActiveRecord::Migration[7.2]
  def up
    # What it takes a line, measured when it was last changed.
    add_column :parsers, :microseconds, :float, null: false, default: 0

    # Parsers applied to what is stored, one run each.
    create_table :rereads do |t|
      t.bigint :parser_id, null: false
      t.integer :version, null: false
      # The parser as it was when the run was asked for.
      t.text :definition, null: false
      t.string :state, null: false, default: "waiting"
      t.integer :total, null: false, default: 0
      t.integer :looked_at, null: false, default: 0
      t.integer :altered, null: false, default: 0
      t.integer :last_id
      t.string :problem
      t.integer :created_us, null: false
      t.integer :ended_us
      t.index :state
    end

    # What a changed line had before, so that a run can be undone.
    execute <<~SQL
      CREATE TABLE reread_events (
        reread_id INTEGER, event_id INTEGER, kind_id INTEGER NOT NULL, spans BLOB NOT NULL, PRIMARY KEY (reread_id, event_id)
      ) WITHOUT ROWID
    SQL
  end

  def down
    remove_column :parsers, :microseconds
    drop_table :reread_events
    drop_table :rereads
  end
end
