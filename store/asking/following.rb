# frozen_string_literal: true

module Northdrift
  module Store
    # Lines of a question as they come in, each told once. They come in another order than that of their times: clocks
    # are apart, and one source hands on its lines later than the next. So new ones are looked for among many more of
    # the latest lines than are shown.
    class Following
      # Lines whose own time is further back are not shown as new: clocks and networks are not that slow.
      LATE_US = 600_000_000
      # Nor are those of clocks that are further ahead.
      AHEAD_US = 86_400_000_000
      # New lines are looked for among so many of the latest.
      REACH = 5000
      # More than a person can read in a moment are thinned.
      MOST = 200

      # @!attribute events [Array<StoredEvent>] the latest of them, in order of time
      # @!attribute skipped [Integer] lines that came as well
      News = Struct.new(:events, :skipped)

      # @param spec [Hash] see {Question#spec}; its window is left alone
      # @param now_us [Integer] microseconds UTC; lines that are there by then are none that come in
      # @param reach [Integer] lines
      # @param most [Integer] lines told at once
      # @raise [Find::Mistake]
      def initialize(spec, now_us, reach: REACH, most: MOST)
        @spec = spec
        @reach = reach
        @most = most
        @seen = Set.new
        keep(latest(now_us), now_us)
      end

      # @param now_us [Integer] microseconds UTC
      # @return [News] since the last look
      def look(now_us)
        ids = latest(now_us)
        fresh = ids.select { |id| id > @floor && !@seen.include?(id) }
        skipped = fresh.size - (told = fresh.last(@most)).size
        # None of those that were seen is in reach any more: what lies between came in as well.
        if fresh.size == @reach && ids.first > @latest
          skipped += question(EventId.micros(@latest) + 1, EventId.micros(ids.first)).total
        end
        keep(ids, now_us)
        News.new(StoredEvent.all(told).sort_by { |event| [event.time_us, event.id] }, skipped)
      end

      private

      # @param ids [Array<Integer>] in ascending order
      def keep(ids, now_us)
        # What lies before them is not looked at: lines that are there already come into reach when later ones are
        # removed.
        @floor = ids.size == @reach ? ids.first : 0
        @latest = [@latest, ids.last || EventId.first(now_us)].compact.max
        @seen = ids.to_set
      end

      # Made anew each time: new kinds may have come.
      def question(from_us, to_us) = Question.new(**@spec, from_us: from_us, to_us: to_us)

      def latest(now_us) = question(now_us - LATE_US, now_us + AHEAD_US).latest_ids(@reach)
    end
  end
end
