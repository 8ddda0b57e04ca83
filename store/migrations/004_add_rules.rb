# frozen_string_literal: true

class AddRules < ActiveRecord::Migration[7.2]
  def change
    # People's own rules that take fields out of messages; a change is a new version.
    create_table :parsers do |t|
      t.string :name, null: false
      t.string :pattern, null: false
      t.text :types, null: false, default: "{}"
      t.string :find, null: false, default: ""
      t.text :samples, null: false, default: "[]"
      t.integer :position, null: false, default: 0
      t.integer :version, null: false, default: 1
      t.boolean :enabled, null: false, default: true
      t.integer :matched, null: false, default: 0
      t.integer :created_us, null: false
      t.integer :changed_us, null: false
      t.integer :deleted_us
    end

    create_table :noise_rules do |t|
      t.string :name, null: false
      t.string :find, null: false
      t.string :action, null: false
      t.integer :keep, null: false, default: 10
      t.text :patterns, null: false, default: "{}"
      t.integer :lines, null: false, default: 0
      t.integer :bytes, null: false, default: 0
      t.boolean :enabled, null: false, default: true
      t.integer :expires_us
      t.integer :created_us, null: false
      t.integer :deleted_us
    end

    # The latest lines that noise rules turned away: to be seen while following, and in the rule.
    create_table :turned_away do |t|
      t.bigint :rule_id, null: false
      t.integer :time_us, null: false
      t.integer :severity, null: false
      t.string :machine
      t.string :service
      t.text :message, null: false
      t.index :rule_id
    end
  end
end
