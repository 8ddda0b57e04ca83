# frozen_string_literal: true

module Northdrift
  module Store
    # Goes through rows one by one, for what only Ruby can tell of them.
    module Scan
      module_function

      # @param access [Access]
      # @param columns [String] of events
      # @yieldparam row [Array]
      def each(access, columns)
        table, where = access.parts(row: true)
        Database.prepare("SELECT #{columns} #{table} #{where}") do |statement|
          statement.bind_params(*access.binds)
          while (row = statement.step)
            yield row
          end
        end
      end
    end
  end
end
