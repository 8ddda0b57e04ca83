# frozen_string_literal: true

class AddSights < ActiveRecord::Migration[7.2]
  def up
    # Which kinds, sources and templates come together: what somebody may see of one tells what of the others.
    execute <<~SQL
      CREATE TABLE appearances (
        template_id INTEGER, kind_id INTEGER, source_id INTEGER, PRIMARY KEY (template_id, kind_id, source_id)
      ) WITHOUT ROWID
    SQL
    execute <<~SQL
      INSERT INTO appearances SELECT DISTINCT template_id, kind_id, source_id FROM events ORDER BY 1, 2, 3
    SQL
    execute <<~SQL
      CREATE TABLE kind_sources (kind_id INTEGER, source_id INTEGER, PRIMARY KEY (kind_id, source_id)) WITHOUT ROWID
    SQL
    execute "INSERT INTO kind_sources SELECT DISTINCT kind_id, source_id FROM appearances"
    # What one may see, as a find text; everything, where there is none.
    %i[people tokens cases pins].each { |table| add_column table, :sight, :string }
  end

  def down
    %i[people tokens cases pins].each { |table| remove_column table, :sight }
    drop_table :appearances
    drop_table :kind_sources
  end
end
