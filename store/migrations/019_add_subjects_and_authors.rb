# frozen_string_literal: true

class AddSubjectsAndAuthors < ActiveRecord::Migration[7.2]
  AUTHORED = %i[cases searches scopes parsers noise_rules logbook_rules feeds relays].freeze

  def change
    # Whom another provider knows them as: its address, and the number there.
    add_column :people, :subject, :string
    add_index :people, :subject, unique: true
    # Names, which stay when somebody goes.
    AUTHORED.each do |table|
      add_column table, :made_by, :string
      add_column table, :changed_by, :string
    end
  end
end
