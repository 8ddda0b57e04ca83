# frozen_string_literal: true

class AddAudit < ActiveRecord::Migration[7.2]
  def up
    # Who did what. Each entry has a digest of itself and of the entry before it.
    execute <<~SQL
      CREATE TABLE audit (
        id INTEGER PRIMARY KEY AUTOINCREMENT, at_us INTEGER NOT NULL, who TEXT NOT NULL, address TEXT, action TEXT NOT NULL, target TEXT NOT NULL, outcome INTEGER NOT NULL, changes TEXT NOT NULL,
        previous TEXT NOT NULL, digest TEXT NOT NULL
      )
    SQL
    %w[UPDATE DELETE].each do |change|
      execute "CREATE TRIGGER audit_#{change.downcase} BEFORE #{change} ON audit BEGIN SELECT RAISE(ABORT, 'the " \
              "audit trail is only added to'); END"
    end
  end

  def down = drop_table(:audit)
end
