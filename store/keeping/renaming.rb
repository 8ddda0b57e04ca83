# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Gives a machine that was named after where its lines came from the name that people know it by. Lines that come
    # from there later have it too; those that name their machine themselves keep what they say.
    module Renaming
      # The name cannot be given. Its message is for the person.
      class Unfit < Error; end

      NAME = Northdrift::Fleet::Roster::NAME
      DERIVED = "EXISTS (SELECT 1 FROM json_each(kinds.traits, '$.inferred') WHERE value = 'machine')"

      module_function

      # @return [Array<String>] names that no line says
      def derived
        Database.rows("SELECT DISTINCT machine FROM kinds WHERE machine IS NOT NULL AND #{DERIVED}").flatten
      end

      # @param from [String]
      # @param name [String] it may be that of a machine that there is already
      # @return [Integer] how many lines have it now
      # @raise [Unfit]
      def rename(from, name)
        raise Unfit, "a machine's name has no blanks, commas, semicolons or quotes" unless NAME.match?(name)

        kinds = ids("SELECT id FROM kinds WHERE machine = ? AND #{DERIVED}", from)
        raise Unfit, "no machine “#{Text.display(from)}” was named after where its lines came from" if kinds.empty?
        return lines(kinds) if from == name

        Database.step do
          all = ids("SELECT id FROM kinds WHERE machine = ?", from).size == kinds.size
          happenings(from, name, kinds, all)
          Database.rows("UPDATE kinds SET machine = ? WHERE id IN (#{kinds.join(',')})", [name])
          remember(from, name)
          all ? Fleet.rename(from, name) : Fleet.changed
        end
        lines(kinds)
      end

      def ids(sql, *binds) = Database.rows(sql, binds).flatten
      private_class_method :ids

      def lines(kinds) = Database.value("SELECT sum(n) FROM kind_counts WHERE kind_id IN (#{kinds.join(',')})").to_i
      private_class_method :lines

      # Where all its lines get the new name, so does what no line tells.
      def happenings(from, name, kinds, all)
        where = all ? "" : " AND (SELECT kind_id FROM events WHERE id = event_id) IN (#{kinds.join(',')})"
        Database.rows("UPDATE happenings SET machine = ? WHERE machine = ?#{where}", [name, from])
      end
      private_class_method :happenings

      # A name that people gave before was for the same places.
      def remember(from, name)
        given = MachineName.where(called: from).update_all(called: name)
        MachineName.upsert({ name: from, called: name }) if given.zero?
        MachineName.where("name = called").delete_all
      end
      private_class_method :remember
    end
  end
end
