# frozen_string_literal: true

require "tzinfo"

module Northdrift
  module Rules
    # Hours of days of the week, in a zone: in which a rule is watched, or somebody wants to be told.
    class Hours
      DAYS = %w[mon tue wed thu fri sat sun].freeze
      KEYS = %w[days from to zone].freeze
      CLOCK = /\A([01]\d|2[0-3]):([0-5]\d)\z/
      DAY_MINUTES = 24 * 60

      # @param given [Hash{String=>Object}, nil] "days" (see {DAYS}, all of them where there are none), "from" and "to"
      #   such as "07:00", "zone"; nil for always
      # @raise [Mistake]
      def initialize(given)
        @given = given || {}
        raise mistake("hours are days, from, to and a zone") unless @given.is_a?(Hash) && (@given.keys - KEYS).empty?

        @days = @given.fetch("days", DAYS)
        raise mistake("a day is one of #{DAYS.join(', ')}") unless @days.is_a?(Array) && DAYS.intersect?(@days) &&
                                                                   (@days - DAYS).empty?

        @from = minutes(@given.fetch("from", "00:00"))
        @to = minutes(@given.fetch("to", "00:00"))
        @zone = TZInfo::Timezone.get(@given.fetch("zone", "UTC").to_s)
      rescue TZInfo::InvalidTimezoneIdentifier
        raise mistake("there is no zone “#{Text.display(@given['zone'].to_s)}”")
      end

      # @return [Boolean] whether every moment is in them
      def always? = @given.empty?

      # Hours that go past midnight belong to the day on which they begin.
      # @param at_us [Integer]
      # @return [Boolean]
      def include?(at_us)
        return true if always?

        local = @zone.utc_to_local(Time.at(0, at_us, :microsecond, in: "UTC"))
        now = (local.hour * 60) + local.min
        today = DAYS[local.wday - 1]
        return @days.include?(today) && now.between?(@from, upto - 1) if upto <= DAY_MINUTES

        (@days.include?(today) && now >= @from) || (@days.include?(DAYS[local.wday - 2]) && now < @to)
      end

      # @return [String] such as "mon, tue 07:00–18:00 Europe/Oslo"
      def in_words
        days = "#{@given['days'].join(', ')} " if @given["days"]
        "#{days}#{clock(@from)}–#{clock(@to)} #{@zone.identifier}"
      end

      private

      def upto = @to > @from ? @to : @to + DAY_MINUTES

      def clock(minutes) = format("%02d:%02d", *minutes.divmod(60))

      def minutes(text)
        found = CLOCK.match(text.to_s) or raise mistake("a time of day is such as 07:30")

        (found[1].to_i * 60) + found[2].to_i
      end

      def mistake(message) = Mistake.new("hours", message)
    end
  end
end
