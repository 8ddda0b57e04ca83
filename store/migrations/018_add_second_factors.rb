# frozen_string_literal: true

class AddSecondFactors < ActiveRecord::Migration[7.2]
  def change
    # The secret is encrypted; the time is none until a code of it was given. The step is that of the code that was
    # taken last; of recovery codes there are digests.
    change_table :people, bulk: true do |t|
      t.string :factor_sealed
      t.integer :factor_since_us
      t.integer :factor_step
      t.string :recovery, null: false, default: "[]"
    end
  end
end
