# frozen_string_literal: true

class AddSecondCounts < ActiveRecord::Migration[7.2]
  def up
    execute "CREATE TABLE second_counts (second INTEGER, severity INTEGER, n INTEGER NOT NULL, PRIMARY KEY (second, " \
            "severity)) WITHOUT ROWID"
  end

  def down = drop_table(:second_counts)
end
