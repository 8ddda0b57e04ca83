# frozen_string_literal: true

class CreateEvents < ActiveRecord::Migration[7.2]
  def change
    create_table :sources do |t|
      t.string :name, null: false
      t.string :machine
      t.string :zone, null: false, default: "UTC"
      t.string :encoding, null: false, default: "UTF-8"
      t.integer :reference_us, null: false
      # How far the content has been read, and the SHA-256 of it up to there.
      t.integer :bytes, null: false, default: 0
      t.integer :lines, null: false, default: 0
      t.string :digest, null: false, default: ""
      t.string :fingerprint, null: false, default: ""
      t.bigint :import_id
      t.integer :events, null: false, default: 0
      t.integer :unread, null: false, default: 0
      t.boolean :complete, null: false, default: false
      t.string :problem
      t.integer :created_us, null: false
      t.index :digest
    end

    # What all lines of one kind share: who spoke, in which format, with which fields.
    create_table :kinds do |t|
      t.string :machine
      t.string :service
      t.string :reader, null: false
      t.text :layout, null: false
      t.text :traits, null: false
      t.string :key, null: false
      t.index :key, unique: true
    end

    # Many templates may turn out to be one pattern; lines keep their template, so that nothing has to be written again.
    create_table :patterns do |t|
      t.text :text, null: false
    end
    create_table :templates do |t|
      t.text :text, null: false
      t.bigint :pattern_id, null: false
      t.index :text, unique: true
      t.index :pattern_id
    end

    create_table :imports do |t|
      t.string :name, null: false
      t.string :path
      t.string :zone, null: false, default: "UTC"
      t.string :machine
      t.string :state, null: false, default: "waiting"
      t.integer :bytes, null: false, default: 0
      t.integer :bytes_read, null: false, default: 0
      t.text :results, null: false, default: "[]"
      t.integer :created_us, null: false
      t.integer :ended_us
      t.index :state
    end

    create_table :settings, id: false do |t|
      t.string :name, null: false, primary_key: true
      t.text :value, null: false
    end

    reversible do |direction|
      direction.up { create_event_tables }
      direction.down { %w[events lines minute_counts kind_counts template_counts].each { |name| drop_table name } }
    end
  end

  private

  # Written out, since the row id has a meaning and the full-text table is virtual.
  def create_event_tables
    execute <<~SQL
      CREATE TABLE events (
        id INTEGER PRIMARY KEY,
        kind_id INTEGER NOT NULL,
        template_id INTEGER NOT NULL,
        source_id INTEGER NOT NULL,
        line INTEGER NOT NULL,
        offset INTEGER NOT NULL,
        shift INTEGER NOT NULL,
        head TEXT NOT NULL,
        body TEXT NOT NULL,
        extra TEXT,
        spans BLOB NOT NULL
      )
    SQL
    # Contentless: the text is in events. Lines are taken out again with FTS5's own 'delete' command, which is given
    # the text anew; that spares the per-row bookkeeping that contentless_delete=1 would keep (12 bytes a line).
    execute <<~SQL
      CREATE VIRTUAL TABLE lines USING fts5(
        text, content='', columnsize=0, detail=full, tokenize="unicode61 remove_diacritics 0 tokenchars '_'"
      )
    SQL
    # A merge writes what it merges once more, and every word is looked up in each piece: a compromise.
    execute "INSERT INTO lines(lines, rank) VALUES ('automerge', 32), ('crisismerge', 512), ('hashsize', 33554432)"
    execute "CREATE TABLE minute_counts (minute INTEGER, severity INTEGER, n INTEGER NOT NULL, PRIMARY KEY (minute, " \
            "severity)) WITHOUT ROWID"
    execute <<~SQL
      CREATE TABLE template_counts (
        template_id INTEGER, hour INTEGER, severity INTEGER, n INTEGER NOT NULL, PRIMARY KEY (template_id, hour, severity)
      ) WITHOUT ROWID
    SQL
    execute <<~SQL
      CREATE TABLE kind_counts (
        kind_id INTEGER, slot INTEGER, severity INTEGER, n INTEGER NOT NULL, PRIMARY KEY (kind_id, slot, severity)
      ) WITHOUT ROWID
    SQL
  end
end
