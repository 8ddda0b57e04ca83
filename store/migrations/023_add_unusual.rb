# frozen_string_literal: true

class AddUnusual < ActiveRecord::Migration[7.2]
  def up
    # What was unusual, without that a rule says so.
    create_table :oddities do |t|
      t.string :kind, null: false
      # What it is about: two with the same are of one thing.
      t.text :subject, null: false
      t.integer :pattern_id
      t.string :machine
      t.string :service
      t.string :field
      t.text :value
      t.integer :severity, null: false
      t.integer :priority, null: false
      t.float :surprise, null: false
      t.integer :lines, null: false
      t.float :expected
      t.integer :from_us, null: false
      t.integer :last_us, null: false
      t.string :state, null: false, default: "open"
      t.integer :until_us
      t.text :why, null: false, default: ""
      t.string :changed_by
      t.integer :created_us, null: false
      t.integer :changed_us, null: false
      t.index %i[kind subject last_us]
      t.index %i[state last_us]
      t.index :last_us
    end
    add_column :sources, :unusual, :boolean, null: false, default: true
    # When somebody took it.
    add_column :alerts, :taken_us, :integer
    # What the fields of a machine and service were; where they were many, one without a value.
    execute <<~SQL
      CREATE TABLE usual_values (
        machine TEXT NOT NULL, service TEXT NOT NULL, field TEXT NOT NULL, value TEXT NOT NULL, first_hour INTEGER NOT NULL,
        n INTEGER NOT NULL
      )
    SQL
    execute "CREATE UNIQUE INDEX one_usual_value ON usual_values (machine, service, field, value)"
  end

  def down
    drop_table :usual_values
    remove_column :sources, :unusual
    remove_column :alerts, :taken_us
    drop_table :oddities
  end
end
