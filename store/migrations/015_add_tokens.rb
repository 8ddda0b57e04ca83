# frozen_string_literal: true

class AddTokens < ActiveRecord::Migration[7.2]
  def change
    # What programs ask with. The digest is that of what is sent.
    create_table :tokens do |t|
      t.string :name, null: false
      t.string :digest, null: false, index: { unique: true }
      t.string :role, null: false
      t.string :made_by
      t.integer :created_us, null: false
      t.integer :expires_us, null: false
      t.integer :used_us
    end
  end
end
