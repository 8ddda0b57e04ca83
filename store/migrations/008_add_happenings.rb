# frozen_string_literal: true

class AddHappenings < ActiveRecord::Migration[7.2]
  def up
    # What the logbook read out of lines. The id is that of the line.
    execute <<~SQL
      CREATE TABLE happenings (
        event_id INTEGER PRIMARY KEY, rule TEXT NOT NULL, kind TEXT NOT NULL, severity INTEGER NOT NULL, machine TEXT, service TEXT, says TEXT NOT NULL, fields TEXT NOT NULL
      )
    SQL
    add_index :happenings, %i[kind event_id]
    add_index :happenings, %i[machine event_id]
  end

  def down = drop_table(:happenings)
end
