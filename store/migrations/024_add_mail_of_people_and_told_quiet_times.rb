# frozen_string_literal: true

class AddMailOfPeopleAndToldQuietTimes < ActiveRecord::Migration[7.2]
  def change
    # Where they are told of alerts.
    add_column :people, :mail, :string
    # Kinds of entries of the logbook that tell a quiet time, each for so long behind it; and what they say.
    add_column :alert_quiets, :entries, :text
    add_column :alert_quiets, :lasts_us, :integer
    add_column :alert_quiets, :says, :string, null: false, default: ""
  end
end
