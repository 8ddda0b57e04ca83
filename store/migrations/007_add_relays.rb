# frozen_string_literal: true

class AddRelays < ActiveRecord::Migration[7.2]
  def up
    # Where lines are sent on to.
    create_table :relays do |t|
      t.string :name, null: false
      t.string :kind, null: false
      t.text :settings, null: false, default: "{}"
      t.string :find, null: false, default: ""
      t.boolean :paused, null: false, default: false
      t.string :problem
      # The last entry of the queue that was delivered.
      t.integer :position, null: false, default: 0
      t.integer :sent, null: false, default: 0
      # Lines that the other side would not have, and lines that were forgotten before they could be sent.
      t.integer :refused, null: false, default: 0
      t.integer :gone, null: false, default: 0
      t.integer :created_us, null: false
      t.integer :deleted_us
    end
    # Ids of the lines that came in, as 64-bit numbers of this machine, in the order of their writing.
    execute "CREATE TABLE relay_queue (number INTEGER PRIMARY KEY AUTOINCREMENT, lines INTEGER NOT NULL, ids BLOB " \
            "NOT NULL)"
  end

  def down
    drop_table :relay_queue
    drop_table :relays
  end
end
