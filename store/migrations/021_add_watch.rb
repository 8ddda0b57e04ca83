# frozen_string_literal: true

class AddWatch < ActiveRecord::Migration[7.2]
  def up
    create_table :alert_rules do |t|
      t.text :definition, null: false
      t.boolean :enabled, null: false, default: false
      # What stands in its way.
      t.string :problem
      t.string :made_by
      t.string :changed_by
      t.integer :created_us, null: false
      t.integer :changed_us, null: false
      t.integer :deleted_us
    end
    create_table :alerts do |t|
      t.integer :rule_id, null: false
      # As it stood.
      t.text :definition, null: false
      t.string :name, null: false
      t.integer :severity, null: false
      t.text :key, null: false
      t.string :machine
      t.integer :from_us, null: false
      t.integer :raised_us, null: false
      t.integer :last_us, null: false
      t.string :state, null: false, default: "open"
      t.boolean :reopened, null: false, default: false
      t.string :taken_by
      t.integer :closed_us
      t.text :remedy, null: false, default: ""
      t.integer :created_us, null: false
      t.integer :changed_us, null: false
      t.index %i[rule_id key last_us]
      t.index %i[state raised_us]
      t.index :raised_us
    end
    # What became of it, and who did that.
    create_table :alert_steps do |t|
      t.integer :alert_id, null: false, index: true
      t.integer :at_us, null: false
      t.string :who
      t.string :what, null: false
      t.text :text, null: false, default: ""
      # What it was before, for who takes it back.
      t.text :before, null: false, default: "{}"
      t.integer :undone_us
    end
    # Lines that were not looked at yet, in the order in which they came.
    execute <<~SQL
      CREATE TABLE watch_queue (number INTEGER PRIMARY KEY AUTOINCREMENT, lines INTEGER NOT NULL, ids BLOB NOT NULL)
    SQL
  end

  def down = %i[watch_queue alert_steps alerts alert_rules].each { |table| drop_table(table) }
end
