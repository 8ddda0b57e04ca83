# frozen_string_literal: true

module Northdrift
  module Store
    # Cuts a window into pieces, so that others get their turn, several processes can share the work, and a person can
    # stop it.
    module Pieces
      SIZE = 250_000

      module_function

      # @return [Integer] about how many events a window has, told by its minutes
      def events(from_us, to_us)
        Database.value(
          "SELECT sum(n) FROM main.minute_counts WHERE minute BETWEEN ? AND ?",
          [from_us / Rollup::MINUTE, to_us / Rollup::MINUTE]
        ).to_i
      end

      # @param from_us [Integer]
      # @param to_us [Integer]
      # @param size [Integer] events of a piece
      # @return [Array<Array(Integer, Integer)>] windows of whole minutes that have about as many events each
      def of(from_us, to_us, size: SIZE)
        minutes =
          Database.rows(
            "SELECT minute, n FROM (SELECT minute, sum(n) AS n FROM main.minute_counts WHERE minute BETWEEN ? AND ? " \
            "GROUP " \
            "BY minute) ORDER BY minute",
            [from_us / Rollup::MINUTE, to_us / Rollup::MINUTE]
          )
        cuts = []
        events = 0
        minutes.each do |minute, n|
          if events.positive? && events + n > size
            cuts << (minute * Rollup::MINUTE)
            events = 0
          end
          events += n
        end
        [from_us, *cuts.select { |cut| cut > from_us && cut < to_us }, to_us].each_cons(2).to_a
      end
    end
  end
end
