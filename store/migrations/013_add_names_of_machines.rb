# frozen_string_literal: true

class AddNamesOfMachines < ActiveRecord::Migration[7.2]
  def change
    # What people call machines that were named after where their lines came from.
    create_table :machine_names, id: false do |t|
      t.string :name, null: false, primary_key: true
      t.string :called, null: false
    end
    # When the person gave an upload; files that were given together have the same.
    add_column :imports, :given_us, :integer
  end
end
