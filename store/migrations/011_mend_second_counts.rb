# frozen_string_literal: true

# Minutes whose seconds were counted and from which lines were taken out later lacked the lines that came after that.
# They are counted by second anew when the next lines of theirs come, and from the lines until then.
class MendSecondCounts < ActiveRecord::Migration[7.2]
  def up
    execute <<~SQL
      DELETE FROM second_counts WHERE second / 60 NOT IN (
        SELECT minute FROM (SELECT second / 60 AS minute, sum(n) AS seconds FROM second_counts GROUP BY 1)
        JOIN (SELECT minute, sum(n) AS minutes FROM minute_counts GROUP BY 1) USING (minute) WHERE seconds = minutes
      )
    SQL
  end

  def down; end
end
