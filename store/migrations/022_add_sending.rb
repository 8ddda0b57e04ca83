# frozen_string_literal: true

class AddSending < ActiveRecord::Migration[7.2]
  def up
    # Who is told of which alerts, how, and when.
    create_table :alert_routes do |t|
      t.string :name, null: false
      t.string :kind, null: false
      t.text :settings, null: false
      t.text :definition, null: false
      t.boolean :enabled, null: false, default: true
      t.string :made_by
      t.string :changed_by
      t.integer :created_us, null: false
      t.integer :changed_us, null: false
      t.integer :deleted_us
    end
    # What somebody is told, or was.
    create_table :alert_deliveries do |t|
      t.integer :route_id, null: false
      t.string :recipient, null: false, default: ""
      t.integer :alert_id
      # What became of the alert, of which it tells; nothing twice.
      t.integer :step_id
      t.string :occasion, null: false
      t.string :state, null: false, default: "waiting"
      t.integer :due_us, null: false
      t.integer :attempts, null: false, default: 0
      t.string :problem
      # Those that are told together have one.
      t.string :message
      t.string :subject
      t.integer :created_us, null: false
      t.integer :sent_us
      t.index %i[route_id recipient alert_id step_id occasion], unique: true, name: "one_delivery"
      t.index %i[state route_id due_us]
      t.index %i[route_id recipient sent_us]
    end
    # Since when it has not held any more, and what changed before it was raised.
    add_column :alerts, :calm_us, :integer
    add_column :alerts, :cause, :text
    # Under which other it is folded, since it stands on one chain of dependencies with it, and by which machines.
    add_column :alerts, :root_id, :integer
    add_column :alerts, :fold_path, :text
    add_index :alerts, :root_id
    # What is not told: what is muted, and what is planned. A quiet time, and the alerts that are in one.
    create_table :alert_quiets do |t|
      t.string :kind, null: false
      t.integer :rule_id
      t.text :find, null: false
      t.integer :from_us, null: false
      t.integer :until_us
      t.text :why, null: false, default: ""
      t.string :made_by
      t.string :changed_by
      t.integer :created_us, null: false
      t.integer :changed_us, null: false
      t.integer :deleted_us
    end
    add_column :alerts, :quiet_id, :integer
    add_index :alerts, :last_us, where: "calm_us IS NULL AND state != 'closed'", name: "alerts_that_may_be_calm"
  end

  def down
    remove_index :alerts, name: "alerts_that_may_be_calm"
    remove_index :alerts, :root_id
    remove_columns :alerts, :calm_us, :cause, :root_id, :fold_path, :quiet_id
    %i[alert_quiets alert_deliveries alert_routes].each { |table| drop_table(table) }
  end
end
