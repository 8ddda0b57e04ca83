# frozen_string_literal: true

class AddBoards < ActiveRecord::Migration[7.2]
  def change
    create_table :boards do |t|
      # See Boards::Board.
      t.text :definition, null: false
      # Whose it is; everybody's, where there is none.
      t.integer :team_id
      t.integer :created_us, null: false
      t.integer :changed_us, null: false
      t.integer :deleted_us
      t.string :made_by
      t.string :changed_by
    end
  end
end
