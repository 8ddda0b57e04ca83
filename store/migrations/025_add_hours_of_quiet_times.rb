# frozen_string_literal: true

class AddHoursOfQuietTimes < ActiveRecord::Migration[7.2]
  def change
    # Those in which it is quiet again and again, see Rules::Hours; null where it is all along.
    add_column :alert_quiets, :hours, :text
  end
end
