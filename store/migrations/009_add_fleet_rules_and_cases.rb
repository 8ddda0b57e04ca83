# frozen_string_literal: true

class AddFleetRulesAndCases < ActiveRecord::Migration[7.2]
  def change
    change_table :happenings do |t|
      t.string :person
      # Request and outcome of one operation have one id.
      t.string :operation
      t.string :phase
      t.index %i[operation phase]
      t.index %i[person event_id]
      t.index %i[rule event_id]
    end

    # Rules of the logbook that people made, and those that ship and are switched off.
    create_table :logbook_rules do |t|
      t.string :name, null: false
      t.string :kind, null: false
      t.string :find, null: false
      t.string :take, null: false, default: ""
      t.string :says, null: false
      t.string :severity
      t.boolean :enabled, null: false, default: true
      t.integer :created_us, null: false
      t.integer :deleted_us
    end
    create_table :logbook_switches, id: false do |t|
      t.string :rule, null: false, primary_key: true
    end

    # What people say of machines that lines do not.
    create_table :machines, id: false do |t|
      t.string :name, null: false, primary_key: true
      t.string :site
      t.string :role
      t.text :tags, null: false, default: "[]"
    end
    create_table :dependencies do |t|
      t.string :machine, null: false
      t.string :on, null: false
      t.string :kind, null: false, default: "needs"
      t.index %i[machine on kind], unique: true
    end

    create_table :cases do |t|
      t.string :title, null: false
      t.string :status, null: false, default: "open"
      t.integer :onset_us
      t.text :cause, null: false, default: ""
      t.text :remedy, null: false, default: ""
      t.text :effect, null: false, default: ""
      t.text :note, null: false, default: ""
      t.integer :created_us, null: false
      t.integer :changed_us, null: false
      t.integer :closed_us
      t.integer :deleted_us
    end
    # What is pinned is kept here whole, whatever becomes of its line.
    create_table :pins do |t|
      t.bigint :case_id, null: false
      t.string :kind, null: false
      t.integer :at_us, null: false
      t.bigint :event_id
      t.string :pattern
      t.text :content, null: false
      t.binary :raw
      t.string :sha256
      t.text :note, null: false, default: ""
      t.integer :created_us, null: false
      t.integer :deleted_us
      t.index :case_id
      t.index :pattern
    end
  end
end
