# frozen_string_literal: true

module Northdrift
  module Reading
    # What a form of {StampForms} that was found in a text comes to.
    class StampMatch
      NAMES = StampForms::ALL.transform_values { |form| form.names.to_h { |name| [name.to_sym, true] }.freeze }.freeze
      NOTHING = [].freeze
      SIGNS = "+-".bytes.freeze
      # TAI64 labels of programs that know no leap seconds: 2^62, and the ten seconds of 1970.
      TAI_OFFSET = (1 << 62) + 10
      # Eight hexadecimal digits are a time if they tell one of so many seconds before the reference.
      HEXADECIMAL_REACH = 5 * 366 * 86_400

      # @param form [Symbol]
      # @param match [MatchData]
      # @param clock [Clock]
      def initialize(form, match, clock)
        @names = NAMES[form]
        @match = match
        @clock = clock
      end

      # @return [Stamp::Found, nil] nil where there is no such moment
      def found
        return epoch if @names[:epoch]
        return tai if @names[:tai]
        return hexadecimal if @names[:hexadecimal]

        stop = region
        zone = told(:zone)
        east = told(:east)
        @offset = zone ? StampMatch.offset_minutes(zone, @clock) : east&.to_i
        us = moment
        us && Stamp::Found.new(us, stop, inferred(zone || east))
      end

      # @param zone [String] "Z", an offset or a name
      # @return [Integer] minutes east of UTC
      def self.offset_minutes(zone, clock)
        return 0 if zone == "Z"
        return clock.named_offset(zone) || ZoneNames::MINUTES.fetch(zone) unless SIGNS.include?(zone.getbyte(0))

        minutes = (zone.byteslice(1, 2).to_i * 60) + zone.byteslice(-2, 2).to_i * (zone.bytesize > 3 ? 1 : 0)
        zone.start_with?("-") ? -minutes : minutes
      end

      # @param fraction [String, nil] digits behind the point
      # @return [Integer]
      def self.micros(fraction)
        return 0 unless fraction

        case fraction.bytesize
        when 3 then fraction.to_i * 1000
        when 6 then fraction.to_i
        else fraction.byteslice(0, 6).ljust(6, "0").to_i
        end
      end

      private

      def told(name) = @names[name] ? @match[name] : nil

      # What is no zone's name is the text behind the stamp.
      # @return [Integer] where the stamp ends
      def region
        name = told(:region) or return @match.end(0)
        @region = @clock.of(name) or return @match.begin(:region) - 1
        @clock = @region
        @match.end(0)
      end

      def moment
        clock = [hour, @match[:minute].to_i, told(:second).to_i, StampMatch.micros(told(:fraction))]
        return DateOrder.moment(numbers, year, clock, @offset, @clock) if @names[:one]
        return @clock.utc_without_date(clock, @offset) unless @names[:day]

        civil = [month, @match[:day].to_i, *clock]
        year ? @clock.utc(year, civil, @offset) : @clock.utc_without_year(civil, @offset)
      end

      def numbers = [@match[:one].to_i, @match[:two].to_i, told(:three)&.to_i].compact

      def year
        text = told(:year) or return
        text.bytesize == 2 ? 2000 + text.to_i : text.to_i
      end

      def month
        name = told(:month_name) or return @match[:month].to_i
        Clock::MONTHS[name.byteslice(0, 3)] || Clock::MONTHS[name.byteslice(0, 3).capitalize] || 0
      end

      # @return [Integer] 24 and more where a half of a day has no such hour
      def hour
        number = @match[:hour].to_i
        half = told(:half) or return number
        return 24 unless number.between?(1, 12)

        (number % 12) + (half.casecmp?("P") ? 12 : 0)
      end

      INFERRED = { [true, true] => NOTHING, [true, false] => %i[zone], [false, true] => %i[year],
                   [false, false] => %i[year zone] }.freeze
      private_constant :INFERRED

      def inferred(zone)
        zoned = !zone.nil? || !@region.nil?
        return zoned ? %i[date] : %i[date zone] unless @names[:day] || @names[:one]

        INFERRED[[!told(:year).nil? || @names.key?(:three), zoned]]
      end

      def epoch
        digits = @match[:epoch]
        whole, fraction = digits.include?("e") ? powered(digits) : digits.split(".")
        at(
          case whole.bytesize
          when 10 then (whole.to_i * 1_000_000) + StampMatch.micros(fraction)
          when 13 then whole.to_i * 1000
          when 16 then whole.to_i
          else whole.to_i / 1000
          end
        )
      end

      # "1.7953279281234567e+09", as some encoders write numbers: nine digits behind the point are seconds.
      def powered(digits)
        mantissa = digits[/\A[\d.]+/].delete(".")
        [mantissa.byteslice(0, 10), mantissa.byteslice(10, 6)]
      end

      def tai
        at((@match[:tai].to_i(16) - TAI_OFFSET) * 1_000_000 + @match[:nanos].to_i(16) / 1000)
      end

      def hexadecimal
        us = (@match[:hexadecimal].to_i(16) * 1_000_000) + ticks
        before = @clock.reference_us - us
        at(us) if before.between?(-Clock::SLACK, HEXADECIMAL_REACH * 1_000_000)
      end

      # Nanoseconds where they fit into a second, as directory servers write them.
      def ticks = @match[:ticks] ? @match[:ticks].to_i(16) % 1_000_000_000 / 1000 : 0

      def at(micros) = Clock::PLAUSIBLE.cover?(micros) ? Stamp::Found.new(micros, @match.end(0), NOTHING) : nil
    end
  end
end
