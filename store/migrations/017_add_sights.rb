# frozen_string_literal: true

class AddSights < ActiveRecord::Migration[7.2]
  def up
    # Which kinds, sources and templates come together: what somebody may see of one tells what of the others.
    execute <<~SQL
      CREATE TABLE appearances (
        id INTEGER PRIMARY KEY, kind_id INTEGER NOT NULL, source_id INTEGER NOT NULL, template_id INTEGER NOT NULL
      )
    SQL
    add_index :appearances, %i[template_id kind_id source_id], unique: true
    add_index :appearances, %i[kind_id source_id]
    execute <<~SQL
      INSERT INTO appearances (kind_id, source_id, template_id)
      SELECT DISTINCT kind_id, source_id, template_id FROM events ORDER BY template_id
    SQL
    # What one may see, as a find text; everything, where there is none.
    %i[people tokens cases pins].each { |table| add_column table, :sight, :string }
  end

  def down
    %i[people tokens cases pins].each { |table| remove_column table, :sight }
    drop_table :appearances
  end
end
