# frozen_string_literal: true

require "tzinfo"

module Northdrift
  module Sending
    # Hours of days of the week, in a zone: when somebody wants to be told.
    class Hours
      DAYS = %w[mon tue wed thu fri sat sun].freeze
      CLOCK = /\A([01]\d|2[0-3]):([0-5]\d)\z/
      DAY_MINUTES = 24 * 60

      # @param given [Hash{String=>Object}, nil] "days" (see {DAYS}, all of them where there are none), "from" and "to"
      #   such as "07:00", "zone"; nil for always
      # @raise [Rules::Mistake]
      def initialize(given)
        @given = given || {}
        @days = @given.fetch("days", DAYS)
        stray = @days.is_a?(Array) ? (@days - DAYS).first : @days
        raise Rules::Mistake.new("hours", "a day is one of #{DAYS.join(', ')}") if stray

        @from = minutes(@given.fetch("from", "00:00"))
        @to = minutes(@given.fetch("to", "00:00"))
        @zone = TZInfo::Timezone.get(@given.fetch("zone", "UTC"))
      rescue TZInfo::InvalidTimezoneIdentifier
        raise Rules::Mistake.new("hours", "there is no zone “#{Text.display(@given['zone'].to_s)}”")
      end

      # Hours that go past midnight belong to the day on which they begin.
      # @param now_us [Integer]
      # @return [Boolean]
      def include?(now_us)
        local = @zone.utc_to_local(Time.at(0, now_us, :microsecond, in: "UTC"))
        now = (local.hour * 60) + local.min
        today = DAYS[local.wday - 1]
        return @days.include?(today) && now.between?(@from, upto - 1) if upto <= DAY_MINUTES

        (@days.include?(today) && now >= @from) || (@days.include?(DAYS[local.wday - 2]) && now < @to)
      end

      private

      def upto = @to > @from ? @to : @to + DAY_MINUTES

      def minutes(text)
        found = CLOCK.match(text.to_s) or raise Rules::Mistake.new("hours", "a time of day is such as 07:30")

        (found[1].to_i * 60) + found[2].to_i
      end
    end
  end
end
