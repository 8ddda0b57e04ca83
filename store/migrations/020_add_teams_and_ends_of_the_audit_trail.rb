# frozen_string_literal: true

class AddTeamsAndEndsOfTheAuditTrail < ActiveRecord::Migration[7.2]
  def up
    create_table :teams do |t|
      t.string :name, null: false
      t.string :key, null: false, index: { unique: true }
      # What its members see, as a find text; nil where it says nothing about that.
      t.string :sight
      t.integer :created_us, null: false
      t.integer :changed_us, null: false
      t.string :made_by
      t.string :changed_by
    end
    create_table :memberships do |t|
      t.integer :team_id, null: false
      t.integer :person_id, null: false, index: true
      t.index %i[team_id person_id], unique: true
    end
    # `sight` is what holds: of the person alone, and of the teams.
    add_column :people, :own_sight, :string
    execute "UPDATE people SET own_sight = sight"
    # Whose it is; everybody's, where there is none.
    add_column :searches, :team_id, :integer
    remove_index :searches, name: "index_searches_on_folder_and_name"
    add_index :searches, "coalesce(team_id, 0), folder, name",
              unique: true, where: "deleted_us IS NULL", name: "index_searches_on_team_folder_and_name"
    # The last entry that is not kept any more: what comes next has its digest.
    execute "CREATE TABLE audit_ends (id INTEGER PRIMARY KEY, digest TEXT NOT NULL)"
    execute "DROP TRIGGER audit_delete"
    execute <<~SQL
      CREATE TRIGGER audit_delete BEFORE DELETE ON audit WHEN OLD.id > (SELECT coalesce(max(id), 0) FROM audit_ends)
      BEGIN SELECT RAISE(ABORT, 'the audit trail is only added to'); END
    SQL
  end

  def down = raise(ActiveRecord::IrreversibleMigration)
end
