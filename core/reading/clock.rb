# frozen_string_literal: true

require "tzinfo"

module Northdrift
  module Reading
    # Turns what a stamp says into microseconds UTC, filling in what it leaves out: the zone from the source's setting,
    # the year from a reference moment (the file's time or the time of receipt).
    class Clock
      SECOND = 1_000_000
      DAY = 86_400
      # A stamp without a year may lie this far after the reference, since clocks differ.
      SLACK = DAY * SECOND
      # Times outside are taken for a number that is no time: 1980 to 2100.
      PLAUSIBLE = (315_532_800 * SECOND..4_102_444_800 * SECOND)

      # A stamp so far behind the reference was not written by a clock that was right.
      AHEAD = 10 * 366 * DAY * SECOND

      MONTHS =
        %w[Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec]
          .each_with_index
          .to_h { |name, index| [name, index + 1] }
          .freeze

      # @return [Integer] microseconds UTC that stand in for a missing time
      attr_reader :reference_us

      # @return [Symbol, nil] the form of the stamp that was read last, which most likely is that of the next
      attr_accessor :latest_form
      # @return [String, nil] which number of a date is its day, a key of {DateOrder::ORDERS}
      attr_reader :date_order

      # @param zone [String] an IANA zone name for stamps that have none
      # @param date_order [String, nil]
      # @param reference_us [Integer] microseconds UTC
      def initialize(reference_us:, zone: "UTC", date_order: nil)
        @date_order = date_order
        @zone = TZInfo::Timezone.get(zone)
        @utc_zone = %w[UTC Etc/UTC].include?(zone)
        @reference_us = reference_us
        @latest_plausible_us = [reference_us + AHEAD, PLAUSIBLE.end].min
        @midnights = {}
        @offsets = {}
        @repeated = {}
        @remembered = {}
        @latest = {}
      end

      # @param micros [Integer] of a stamp
      # @return [Boolean] whether no clock that is right shows this: a battery is empty, or a date is a placeholder
      def far?(micros) = micros < PLAUSIBLE.begin || micros > @latest_plausible_us

      # @param zone [String] an IANA zone name that a stamp says
      # @return [Clock, nil] the same in that zone; nil where there is none of that name
      def of(zone)
        @others ||= {}
        @others.fetch(zone) do
          @others.clear if @others.size > 100
          @others[zone] = begin
            Clock.new(reference_us: @reference_us, zone: zone, date_order: @date_order)
          rescue TZInfo::InvalidTimezoneIdentifier
            nil
          end
        end
      end

      # Keeps what a stamp's text came to, for the many lines of one second.
      # @param text [String]
      def remember(text)
        known = @remembered[text]
        return known unless known.nil?

        @remembered.clear if @remembered.size > 50_000
        @remembered[text] = yield
      end

      # As {#remember} does, for texts that start alike; the latest of each size needs no looking up.
      # @param text [String]
      # @param size [Integer] bytes of it that count
      def remember_start(text, size, &)
        latest = @latest[size]
        return latest.value if latest && text.start_with?(latest.text)

        start = text.byteslice(0, size)
        value = remember(start, &)
        @latest[size] = Latest.new(start, value)
        value
      end

      # Keeps where a stamp stands in a line, for the readers that look for one after another.
      # @param line [String] the same object
      # @return [Object, nil]
      def remember_find(line)
        return @found if line.equal?(@found_in)

        @found = yield
        @found_in = line
        @found
      end

      # @!visibility private
      Latest = Struct.new(:text, :value)
      private_constant :Latest

      # @param name [String] abbreviation of a zone
      # @return [Integer, nil] minutes east of UTC that it last stood for in this zone; nil where it never did
      def named_offset(name)
        return if @utc_zone

        @named ||= begin
          now = Time.at(0, @reference_us, :microsecond)
          [*@zone.offsets_up_to(now), *@zone.transitions_up_to(now).map(&:offset)].to_h do |offset|
            [offset.abbreviation.to_s, offset.observed_utc_offset / 60]
          end
        end
        @named[name]
      end

      # @param local_seconds [Integer] seconds since 1970 on the wall clock of the zone
      # @return [Integer] seconds since 1970, UTC
      def to_utc(local_seconds) = local_seconds - zone_offset(local_seconds)

      # @param micros [Integer] UTC, of a stamp without a zone
      # @return [Integer, nil] by how many microseconds the clocks of the zone were put back so soon afterwards that
      #   they showed the same once more; nil where they did not
      def repeated(micros)
        return if @utc_zone

        quarter = micros / (900 * SECOND)
        @repeated.fetch(quarter) do
          @repeated.clear if @repeated.size > 10_000
          @repeated[quarter] = put_back(quarter * 900)
        end
      end

      # @param civil [Array<Integer>] month, day, hour, minute, second and microseconds as a stamp has them
      # @param offset_minutes [Integer, nil] east of UTC; nil when the stamp has no zone
      # @return [Integer, nil] microseconds UTC; nil when there is no such moment
      def utc(year, civil, offset_minutes)
        month, day, hour, minute, second, micros = civil
        midnight = midnight(year, month, day) or return
        return if hour > 23 || minute > 59 || second > 60

        seconds = midnight + (hour * 3600) + (minute * 60) + second
        seconds = offset_minutes ? seconds - (offset_minutes * 60) : to_utc(seconds)
        (seconds * SECOND) + micros
      end

      # The year of a stamp that has none: the latest that does not put it after the reference.
      # @param civil [Array<Integer>] as {#utc} has it
      # @return [Integer, nil] microseconds UTC
      def utc_without_year(civil, offset_minutes = nil)
        year = @reference_year ||= Time.at(0, @reference_us, :microsecond, in: "UTC").year
        [year + 1, year, year - 1].each do |candidate|
          time = utc(candidate, civil, offset_minutes)
          return time if time && time <= @reference_us + SLACK
        end
        # 29 February of the last leap year
        (year - 8...year - 1).reverse_each.lazy.filter_map { |candidate| utc(candidate, civil, offset_minutes) }.first
      end

      # The latest moment at which a clock without a date showed this, up to an hour after the reference.
      # @param time [Array<Integer>] hour, minute, second, microseconds
      # @return [Integer, nil] microseconds UTC
      def utc_without_date(time, offset_minutes = nil)
        latest = @reference_us + (3600 * SECOND)
        day = Date.jd(Date.new(1970, 1, 1).jd + (latest / SECOND / DAY))
        moments =
          [day + 1, day, day - 1, day - 2].map { |date| utc(date.year, [date.month, date.day, *time], offset_minutes) }
        moments.compact.find { |us| us <= latest }
      end

      private

      def midnight(year, month, day)
        key = (year * 416) + (month * 32) + day
        @midnights.fetch(key) do
          @midnights.clear if @midnights.size > 10_000
          @midnights[key] = Date.valid_date?(year, month, day) ? Time.utc(year, month, day).to_i : nil
        end
      end

      def put_back(seconds)
        period = @zone.period_for(Time.at(seconds, in: "UTC"))
        change = period.end_transition or return
        gap = change.previous_offset.observed_utc_offset - change.offset.observed_utc_offset
        gap.positive? && change.timestamp_value - seconds <= gap ? gap * SECOND : nil
      end

      # Zone rules change on whole quarters of an hour, so one look-up serves a quarter.
      def zone_offset(local_seconds)
        return 0 if @utc_zone

        quarter = local_seconds / 900
        @offsets.fetch(quarter) do
          @offsets.clear if @offsets.size > 10_000
          local = Time.at(quarter * 900, in: "UTC")
          periods = @zone.periods_for_local(local)
          # An hour that the clocks skip has no period; the rule before it holds. One that comes twice: the first.
          period = periods.first || @zone.period_for(local - DAY)
          @offsets[quarter] = period.observed_utc_offset
        end
      end
    end
  end
end
