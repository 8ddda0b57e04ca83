# frozen_string_literal: true

module Northdrift
  module Store
    # The machines as they stand in a list, under what people say of them: piece by piece, since there may be thousands.
    class FleetPage
      # What machines can stand under.
      GROUPS = {
        "site" => ->(entry) { [entry.site] }, "role" => ->(entry) { [entry.role] },
        "tag" => ->(entry) { entry.tags.empty? ? [nil] : entry.tags }
      }.freeze

      # A place in the list.
      # @!attribute group [String, nil] nil for machines of which it is not said
      # @!attribute name [String] of the machine
      Place = Struct.new(:group, :name) do
        include Comparable

        def <=>(other) = key <=> other.key

        # Those of which nothing is said come last.
        def key = [group ? 0 : 1, group.to_s.downcase, group.to_s, name]
      end

      # @param report [FleetReport]
      # @param by [String] see {GROUPS}
      # @param text [String] only machines that have it in their name, or in what is said of them
      def initialize(report, by:, text: "")
        @report = report
        @by = GROUPS.fetch(by)
        @text = text.downcase
      end

      # @return [Array<String>] all machines of the list
      def names = @names ||= entries.map(&:name)

      # @return [Integer] machines of the list with open problems or alerts
      def ill = names.count { |name| @report.problems.key?(name) || @report.alerts.any?(name) }

      # @return [Integer] machines of the list that say nothing, unlike themselves
      def silent = names.count { |name| @report.silent.key?(name) }

      # @return [Hash{String, nil=>Integer}] machines by group
      def groups = places.map(&:group).tally

      # @param limit [Integer]
      # @param after [Place, nil] the last one of the piece before
      # @return [Array<Place>]
      def piece(limit, after: nil)
        first = after ? places.bsearch_index { |place| place > after } || places.size : 0
        places.slice(first, limit)
      end

      # @param place [Place]
      # @return [Boolean] whether others come after it
      def more?(place) = !place.nil? && places.last > place

      private

      def entries
        fleet = Fleet.current
        @entries ||= @report.names.map { |name| fleet.entry(name) }.select { |entry| fits?(entry) }
      end

      def fits?(entry)
        @text.empty? ||
          [entry.name, entry.site, entry.role, *entry.tags].compact.any? { |text| text.downcase.include?(@text) }
      end

      def places
        @places ||= entries.flat_map { |entry| places_of(entry) }.sort_by(&:key)
      end

      def places_of(entry) = @by.call(entry).map { |group| Place.new(group, entry.name) }
    end
  end
end
