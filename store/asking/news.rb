# frozen_string_literal: true

module Northdrift
  module Store
    # What a page that is open has to hear of: it differs when lines have come, gone or are on their way.
    module News
      # @!attribute lines [Integer] in the database
      State = Struct.new(:last_id, :lines, :last_import, :bytes_read, :imports)

      # @return [State] of imports, which are of everything, nothing where not everything may be seen
      def self.now
        return State.new(Span.all.last, Events.total) if Sight.current

        State.new(
          Database.value("SELECT max(id) FROM events"), Events.total, Import.maximum(:id), Import.sum(:bytes_read),
          Import.group(:state).count
        )
      end
    end
  end
end
