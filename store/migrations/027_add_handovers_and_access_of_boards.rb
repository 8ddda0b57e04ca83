# frozen_string_literal: true

class AddHandoversAndAccessOfBoards < ActiveRecord::Migration[7.2]
  def change
    change_table :boards do |t|
      # Lists as JSON, see Boards::Access.
      t.text :readers, null: false, default: '["everyone"]'
      t.text :editors, null: false, default: '["everyone"]'
    end

    # What boards were before each change.
    create_table :board_versions do |t|
      t.integer :board_id, null: false
      t.text :definition, null: false
      # When and by whom it was made so.
      t.integer :changed_us, null: false
      t.string :changed_by
      t.index %i[board_id changed_us]
    end

    create_table :board_favourites do |t|
      t.integer :board_id, null: false
      # 0: whoever is at this computer, where there are no people.
      t.integer :person_id, null: false
      t.index %i[person_id board_id], unique: true
    end

    # What one shift told the next.
    create_table :handovers do |t|
      t.integer :from_us, null: false
      t.integer :to_us, null: false
      t.text :remarks, null: false, default: ""
      # What there was to tell, as JSON, see Server::Present::ShiftSummary.
      t.text :summary, null: false
      t.integer :created_us, null: false
      t.integer :changed_us, null: false
      t.integer :acknowledged_us
      t.string :acknowledged_by
      t.string :made_by
      t.string :changed_by
    end

    reversible do |direction|
      direction.up { count_hours }
      direction.down { drop_table :kind_hours }
    end
  end

  private

  # What is counted by ten minutes, by hour; the hour before 1970 is -1.
  def count_hours
    execute <<~SQL
      CREATE TABLE kind_hours (
        kind_id INTEGER, hour INTEGER, severity INTEGER, n INTEGER NOT NULL, PRIMARY KEY (kind_id, hour, severity)
      ) WITHOUT ROWID
    SQL
    execute <<~SQL
      INSERT INTO kind_hours
      SELECT kind_id, (slot - (slot % 6 + 6) % 6) / 6 AS hour, severity, sum(n) FROM kind_counts GROUP BY 1, 2, 3
    SQL
  end
end
