# frozen_string_literal: true

require "active_support"
require "active_support/time"
require "chronic"
require "date"

module Northdrift
  module Windows
    # What a person says of one moment or stretch of time: a stamp as it stands in a log, ISO 8601, a clock with a day
    # or without, "yesterday", "last tuesday", "20 minutes ago", "last night". On days when clocks are changed a wall
    # clock is what it says, too.
    class Phrase
      # The words are those of a date or an amount, but of none that there is, or of two. Its message says so.
      Mistaken = Class.new(Error)

      UNITS = {
        "s" => :seconds, "sec" => :seconds, "second" => :seconds, "m" => :minutes, "min" => :minutes,
        "minute" => :minutes, "h" => :hours, "hour" => :hours, "d" => :days, "day" => :days, "w" => :weeks,
        "week" => :weeks
      }.freeze
      SECONDS = { seconds: 1, minutes: 60, hours: 3600, days: 86_400, weeks: 604_800 }.freeze
      NUMBERS = { "a" => 1, "an" => 1, "half a" => 0.5, "half an" => 0.5 }.freeze
      # An amount of time: number and unit.
      AMOUNT = /(\d+(?:\.\d+)?|half an?|an?)? *(#{UNITS.keys.join('|')})s?/i
      AGO = /\A#{AMOUNT} ago\z/i
      LONGEST_SECONDS = 200 * 366 * 86_400

      # ISO 8601-1:2019: calendar dates (5.2.2, here with other separators too), ordinal dates (5.2.3), week dates
      # (5.2.4), without seconds (5.3.1.3).
      CALENDAR = %r{\A(\d{4})([-/.])(\d\d?)\2(\d\d?)(?:[T ](\d\d):(\d\d))?( ?(?:Z|UTC|[+-]\d\d:?\d\d))?\z}i
      ORDINAL = /\A(\d{4})-(\d{3})\z/
      WEEK = /\A(?:(\d{4})-W(\d\d)(?:-([1-7]))?|week (\d\d?))\z/i
      # Dates that start with the day: dots are nobody's sign for the month first, slashes may be.
      DAY_FIRST = %r{\A(\d\d?)([./])(\d\d?)(?:\2(\d{4})?)?\z}

      HALF = '([ap])\.?m\.?'
      CLOCK =
        /(?:at |@ )?(?:(\d\d?):(\d\d)(?::(\d\d(?:[.,]\d{1,9})?))?(?: ?#{HALF})?|(\d\d?) ?#{HALF}|(noon|midnight))/i
      CLOCK_LAST = /\A(?:(.+?),? )?#{CLOCK}\z/i
      CLOCK_FIRST = /\A#{CLOCK},? (?:on )?(.+)\z/i
      NAMED_HOURS = { "noon" => 12, "midnight" => 0 }.freeze

      # Parts of a day, from one hour to another; after 24 comes the next day.
      PARTS = { "morning" => [6, 12], "afternoon" => [12, 17], "evening" => [17, 20], "night" => [20, 30] }.freeze
      PART = /\A(?:(this|last|.+?) )?(#{PARTS.keys.join('|')})\z/i
      THIS = /\Athis (hour|day|week|month|year)\z/i

      # The parser of words for days passes over those that it does not know; a person should hear of them instead.
      VOCABULARY =
        %r{\A(?:\d[\d/.-]*(?:st|nd|rd|th)?|on|in|of|the|this|last|past|next|ago|before|after|now|today|yesterday|
             tomorrow|(?:day|week|weekend|fortnight|month|year)s?|mon|tue|tues|wed|thu|thur|thurs|fri|sat|sun|
             (?:mon|tues|wednes|thurs|fri|satur|sun)day|jan|feb|mar|apr|may|jun|jul|aug|sep|sept|oct|nov|dec|
             january|february|march|april|june|july|august|september|october|november|december)\z}xi
      # It keeps its settings for the whole process.
      LOCK = Mutex.new
      DAY = 86_400
      HOUR = 3600

      # @param number [String, nil] as {AMOUNT} has it
      # @param unit [String]
      # @return [Numeric] seconds
      # @raise [Mistaken]
      def self.seconds(number, unit)
        seconds = (number ? NUMBERS[number.downcase] || number.to_r : 1) * SECONDS.fetch(UNITS.fetch(unit.downcase))
        seconds <= LONGEST_SECONDS ? seconds : raise(Mistaken, "#{number} #{unit} is longer than there are logs")
      end

      # @param zone [ActiveSupport::TimeZone] that the words are in
      # @param now_us [Integer] microseconds UTC
      def initialize(zone:, now_us:)
        @zone = zone
        @now = zone.at(now_us.fdiv(1_000_000).floor)
        @clock = Reading::Clock.new(zone: zone.tzinfo.name, reference_us: now_us)
      end

      # @param words [String]
      # @return [Range<ActiveSupport::TimeWithZone>, nil] as long as the words are vague, without its end; a moment is a
      #   second; nil where they are not understood
      # @raise [Mistaken]
      def span(words)
        exact(words) || ago(words) || this(words) || part(words) || clock(words) || days(words)
      end

      # @return [Range, nil] of what is a date or a whole stamp by its form alone
      def exact(words) = stamp(words) || date(words)

      # @return [Range, nil] of a stamp as logs have it
      def stamp(words)
        found = Reading::Stamp.read_value(words.b, @clock) or return
        instant(@zone.at(Rational(found.us, 1_000_000)))
      end

      # @return [Boolean] whether these words are a time of day without a day
      def bare_clock?(words) = CLOCK_LAST.match(words)&.[](1).nil? && CLOCK_LAST.match?(words)

      private

      def instant(time) = time...(time + 1)
      def whole(date, days = 1) = at_start(date)...at_start(date + days)
      def at_start(date) = @zone.local(date.year, date.month, date.day)

      def date(words)
        if (match = CALENDAR.match(words)) then calendar(match)
        elsif (match = ORDINAL.match(words)) then whole(Date.ordinal(match[1].to_i, match[2].to_i))
        elsif (match = WEEK.match(words)) then week(match)
        elsif (match = DAY_FIRST.match(words)) then day_first(words, match)
        end
      rescue Date::Error
        raise Mistaken, "“#{words}”: there is no such day"
      end

      def calendar(match)
        year, _sign, month, day, hour, minute, zone = match.captures
        date = Date.new(year.to_i, month.to_i, day.to_i)
        return zone ? nil : whole(date) unless hour
        return if hour.to_i > 23 || minute.to_i > 59
        return stamp("#{date}T#{hour}:#{minute}:00#{zone.strip.upcase.sub('UTC', 'Z')}") if zone

        instant(@zone.local(date.year, date.month, date.day, hour.to_i, minute.to_i))
      end

      # ISO 8601: weeks start on Monday. One without a year is the latest that has begun.
      def week(match)
        year, number, day, bare = match.captures
        return whole(Date.commercial(year.to_i, number.to_i, day.to_i)) if day

        year = year ? year.to_i : @now.to_date.cwyear
        first = Date.commercial(year, (number || bare).to_i, 1)
        first = Date.commercial(year - 1, bare.to_i, 1) if bare && first > @now.to_date
        whole(first, 7)
      end

      def day_first(words, match)
        day, sign, month, year = match.captures
        return if sign == "/" && year.nil?

        day = day.to_i
        month = month.to_i
        if sign == "/" && day != month && month <= 12
          if day <= 12
            raise Mistaken,
                  "“#{words}” may be #{day} #{Date::MONTHNAMES[month]} or #{month} #{Date::MONTHNAMES[day]}; write " \
                  "#{format('%s-%02d-%02d', year, month, day)}"
          end
        elsif sign == "/" && month > 12
          day, month = month, day
        end
        found = Date.new(year ? year.to_i : @now.year, month, day)
        whole(year || found <= @now.to_date ? found : found.prev_year)
      end

      # Days and weeks are those of the calendar, whatever the clocks did.
      def ago(words)
        match = AGO.match(words) or return
        unit = UNITS.fetch(match[2].downcase)
        seconds = Phrase.seconds(match[1], match[2])
        whole_days = seconds / DAY if %i[days weeks].include?(unit)
        instant(whole_days && whole_days == whole_days.to_i ? @now.advance(days: -whole_days.to_i) : @now - seconds)
      end

      # From its start until now; weeks start on Monday (ISO 8601).
      def this(words) = (match = THIS.match(words)) && (@now.public_send("beginning_of_#{match[1].downcase}")...@now)

      def part(words)
        words = "this night" if words.match?(/\Atonight\z/i)
        match = PART.match(words) or return
        from, to = PARTS.fetch(match[2].downcase)
        day = match[1]&.downcase
        date =
          if day.nil? || day == "this"
            today(to)
          elsif day == "last"
            today(to) - (night_now?(to) ? 0 : 1)
          else
            day_of(match[1])
          end
        date && (hour(date, from)...hour(date, to))
      end

      # In the small hours the night is still that of the day before.
      def today(to) = @now.to_date - (night_now?(to) ? 1 : 0)
      def night_now?(to) = to > 24 && @now.hour < to - 24
      def hour(date, number) = at_start(date + (number / 24)).change(hour: number % 24)

      # A clock without a day is the latest that was.
      def clock(words)
        words = words.sub(/\Aat /i, "")
        if (match = CLOCK_LAST.match(words)) then day, *hands = match.captures
        elsif (match = CLOCK_FIRST.match(words)) then *hands, day = match.captures
        else return
        end
        seconds = of_day(hands) or return
        date = day ? day_of(day.sub(/\A(?:on|at) /i, "")) : @now.to_date
        return unless date

        time = wall(date, seconds)
        time = wall(date - 1, seconds) if day.nil? && time > @now
        instant(time)
      end

      # @param hands [Array<String, nil>] what {CLOCK} captures
      # @return [Rational, nil] seconds of the day that a wall clock shows
      def of_day(hands)
        hour, minute, second, half, bare_hour, bare_half, name = hands
        return NAMED_HOURS.fetch(name.downcase) * HOUR if name

        hour = (hour || bare_hour).to_i
        half ||= bare_half
        return if half && !hour.between?(1, 12)

        hour = (hour % 12) + (half.downcase == "p" ? 12 : 0) if half
        seconds = second.to_s.tr(",", ".").to_r
        return unless hour <= 24 && minute.to_i <= 59 && seconds < 61 && (hour < 24 || (minute.to_i + seconds).zero?)

        (hour * HOUR) + (minute.to_i * 60) + seconds
      end

      def wall(date, seconds)
        date += 1 if seconds >= DAY
        seconds %= DAY
        @zone.local(date.year, date.month, date.day, (seconds / HOUR).to_i, (seconds % HOUR / 60).to_i, seconds % 60)
      end

      # @return [Date, nil] the first day of what the words say
      def day_of(words) = (date(words) || ago(words) || days(words))&.begin&.to_date

      def days(words)
        return so_far if words.casecmp?("today")
        return unless words.split(/[\s,]+/).all?(VOCABULARY)

        words = words.sub(/\A(\d\d?) ([a-z]{3,9})\.?(?: (\d{4}))?\z/i) { "#{$2} #{$1}#{$3 && " #{$3}"}" }
        found = LOCK.synchronize do
          Chronic.time_class = @zone
          Chronic.parse(words, now: @now, context: :past, guess: false)
        end
        found && straight(found)
      rescue ArgumentError, TypeError, NoMethodError, RangeError
        nil # what it stumbles over, it does not understand
      end

      # Until now, to the second; and a stretch, not a moment, right after midnight too.
      def so_far = at_start(@now.to_date).then { |midnight| midnight...[@now, midnight + 60].max }

      # Its days have 24 hours each: where clocks were changed, they start or end beside midnight.
      def straight(found)
        length = found.end - found.begin
        return found.begin...found.end if length < 23 * HOUR

        from = (found.begin + (2 * HOUR)).beginning_of_day
        to = found.end
        to = (to + (2 * HOUR)).beginning_of_day unless to == @now
        from...to
      end
    end
  end
end
