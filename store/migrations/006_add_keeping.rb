# frozen_string_literal: true

class AddKeeping < ActiveRecord::Migration[7.2]
  def change
    # Days that what came in by a feed is kept, where it differs from the rest.
    add_column :feeds, :keep_days, :integer

    # Lines that were put away into files, a file for each day of their time.
    create_table :archives do |t|
      t.string :day, null: false
      t.string :file, null: false
      t.string :state, null: false, default: "away"
      t.integer :lines, null: false, default: 0
      t.integer :bytes, null: false, default: 0
      t.integer :back_lines, null: false, default: 0
      t.string :problem
      t.integer :created_us, null: false
      t.integer :changed_us, null: false
      t.index :day, unique: true
    end
    # Where lines of an archive were brought back to; they are not put away again by themselves.
    add_column :sources, :archive_id, :bigint
    add_index :sources, :archive_id
  end
end
