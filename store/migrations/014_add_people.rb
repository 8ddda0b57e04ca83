# frozen_string_literal: true

class AddPeople < ActiveRecord::Migration[7.2]
  def change
    # The key is what a name is compared by: people type it in small letters and in large ones.
    create_table :people do |t|
      t.string :name, null: false
      t.string :key, null: false, index: { unique: true }
      t.string :role, null: false
      t.string :password_digest
      t.integer :created_us, null: false
      t.integer :changed_us, null: false
      t.integer :disabled_us
    end
    # Who is logged in, on which browser. The id is a digest of what the browser has.
    create_table :sessions, id: :string do |t|
      t.integer :person_id, null: false, index: true
      t.integer :created_us, null: false
      t.integer :seen_us, null: false
      t.string :address
      t.string :agent
    end
    # Links that let a person choose a password once. The id is a digest of what stands in the link.
    create_table :invitations, id: :string do |t|
      t.integer :person_id, null: false, index: true
      t.integer :expires_us, null: false
    end
  end
end
