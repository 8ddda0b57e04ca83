# frozen_string_literal: true

class AddSourceBlocksSearchesAndExports < ActiveRecord::Migration[7.2]
  BLOCK = 512

  def up
    # Where the lines of a source are: for each block of lines, the ids between which its events lie. An index over
    # source and line would take 12 bytes of every line.
    execute <<~SQL
      CREATE TABLE source_blocks (
        source_id INTEGER, block INTEGER, first_id INTEGER NOT NULL, last_id INTEGER NOT NULL, PRIMARY KEY (source_id, block)
      ) WITHOUT ROWID
    SQL
    execute "INSERT INTO source_blocks SELECT source_id, line / #{BLOCK}, min(id), max(id) FROM events GROUP BY 1, 2"

    # The pattern that this one turned out to be.
    add_column :patterns, :joined_id, :bigint

    create_table :searches do |t|
      t.string :name, null: false
      t.string :folder, null: false, default: ""
      t.text :tags, null: false, default: "[]"
      # The question as its link has it.
      t.text :query, null: false
      t.integer :created_us, null: false
      t.integer :changed_us, null: false
      t.integer :deleted_us
    end
    add_index :searches, %i[folder name], unique: true, where: "deleted_us IS NULL"

    create_table :scopes do |t|
      t.string :name, null: false
      t.text :find, null: false
      t.integer :changed_us, null: false
      t.index :name, unique: true
    end

    create_table :exports do |t|
      t.string :form, null: false
      t.text :columns, null: false
      t.text :spec, null: false
      t.string :state, null: false
      t.integer :lines, null: false
      t.integer :written, null: false, default: 0
      t.integer :created_us, null: false
    end
  end

  def down
    remove_column :patterns, :joined_id
    %i[source_blocks searches scopes exports].each { |table| drop_table table }
  end
end
