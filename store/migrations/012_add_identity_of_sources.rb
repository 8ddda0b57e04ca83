# frozen_string_literal: true

# Which file on this computer a source was read from, whatever that is called now.
class AddIdentityOfSources < ActiveRecord::Migration[7.2]
  def change
    add_column :sources, :identity, :string
  end
end
