# frozen_string_literal: true

module Northdrift
  module Intake
    # Work on what is stored that goes on beside everything else: parsers applied to the past.
    class Upkeep
      POLL_SECONDS = 0.4

      # Works until told to stop; what was interrupted is taken up again.
      # @param stop [#call] returns true when it is time to end
      def run(stop: -> { false })
        step || sleep(POLL_SECONDS) until stop.call
      end

      # @return [Boolean] whether there was something to do
      def step
        reread = Store::Reread.where(state: Store::Reread::GOING_ON).order(:id).first or return false
        rereading = Store::Rereading.new(reread)
        reread.state == "undoing" ? rereading.undo : rereading.run
        true
      end
    end
  end
end
