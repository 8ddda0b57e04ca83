# frozen_string_literal: true

require "date"

module Northdrift
  module Reading
    # Timestamps in their usual written forms. Each form is a pattern and what its groups mean; a stamp is looked for
    # at one place only (the start of a line, or where a format has its time).
    module Stamp
      # @!attribute us [Integer] microseconds UTC
      # @!attribute size [Integer] bytes that the stamp takes
      # @!attribute inferred [Array<Symbol>] :year, :zone where the stamp left them out
      Found = Struct.new(:us, :size, :inferred)

      NOTHING = [].freeze
      ZONE_INFERRED = %i[zone].freeze
      YEAR_INFERRED = %i[year zone].freeze
      ONLY_YEAR_INFERRED = %i[year].freeze

      CLOCK = ':(?<minute>\d\d):(?<second>\d\d)(?:[.,](?<fraction>\d{1,9}))?'
      TIME = "(?<hour>\\d\\d)#{CLOCK}".freeze
      # Some programs write the hours before ten with one digit, behind one more blank or not.
      SHORT_TIME = "(?<hour>[ \\d]?\\d)#{CLOCK}".freeze
      MONTH = "(?<month_name>Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec)"
      ZONE = "(?<zone>Z|[+-]\\d\\d(?::?\\d\\d)?|#{ZoneNames::PATTERN})".freeze
      SYSLOG_ZONE = '(?<zone>Z|UTC|GMT|[+-]\d\d(?::?\d\d)?)'
      REGION = '(?<region>[A-Z][\w+-]+(?:/[\w+-]+){1,2})'
      DIGITS = '(?<year>\d{4})(?<month>\d\d)(?<day>\d\d)T(?<hour>\d\d)(?<minute>\d\d)(?<second>\d\d)'
      WEEKDAY = "(?:Mon|Tue|Wed|Thu|Fri|Sat|Sun)"

      # Form names as the inspector shows them. Order matters where one form starts like another.
      FORMS = {
        # ISO 8601-1:2019, 5.4.2.1 (and RFC 3339, section 5.6)
        iso: /\A(?<year>\d{4})-(?<month>\d\d)-(?<day>\d\d)[T _]#{SHORT_TIME}(?: ?#{ZONE}(?![\w:]))?/,
        # The same with the day of the week, as systemd's tools print times
        weekday: /\A#{WEEKDAY} (?<year>\d{4})-(?<month>\d\d)-(?<day>\d\d) #{TIME}(?: #{ZONE}(?![\w:]))?/,
        # RFC 3164, section 4.1.2, and with the year that network devices add. A name there is the machine's: section
        # 5.4, example 3
        bsd: /\A#{MONTH} (?<day>[ \d]\d|\d)(?: (?<year>\d{4}))? #{TIME}(?: #{SYSLOG_ZONE}(?![\w:]))?/,
        # As network devices write it: the zone's name before a colon, the year first or behind the day
        device: /\A#{MONTH} (?<day>[ \d]\d|\d)(?: (?<year>\d{4}))? #{TIME}(?: #{ZONE}(?=:))?/,
        device_year: /\A(?<year>\d{4}) #{MONTH} (?<day>[ \d]\d|\d) #{TIME}(?: #{ZONE}(?=:))?/,
        # Common log format: day/month/year:time zone
        access: %r{\A(?<day>\d\d)/#{MONTH}/(?<year>\d{4})[: ]#{TIME}(?: #{ZONE})?},
        # asctime() of ISO C, and with the zone that date(1) puts before the year
        ctime: /\A#{WEEKDAY} #{MONTH} (?<day>[ \d]\d) #{TIME}(?: (?:#{ZONE}|[A-Z]{3,4}))? (?<year>\d{4})/,
        # RFC 5322, section 3.3, and the HTTP date of RFC 9110, section 5.6.7
        mail: /\A#{WEEKDAY}, (?<day>\d\d?) #{MONTH} (?<year>\d{4}) #{TIME} #{ZONE}/,
        day_month: /\A(?<day>\d\d?) #{MONTH} (?<year>\d{4}) #{TIME}(?: #{ZONE}(?![\w:]))?/,
        slashes: %r{\A(?<year>\d{4})/(?<month>\d\d)/(?<day>\d\d) #{SHORT_TIME}},
        # Day, month and year with dashes; Erlang has two colons before the clock, PHP the name of a zone behind it
        dashes:
          %r{\A(?<day>\d\d?)-#{MONTH}-(?<year>\d{4})(?: |::)#{SHORT_TIME}(?: (?:#{ZONE}|#{REGION})(?![\w:/]))?},
        # The written form of US English, as Java's runtime prints times: some of its versions have a narrow blank
        # before AM and PM
        half_days:
          /\A#{MONTH} (?<day>\d\d?), (?<year>\d{4}),? (?<hour>\d\d?)#{CLOCK}(?: |\xE2\x80\xAF)(?<half>[AP])M(?!\w)/n,
        # As old database servers write it; asked for by name only
        six: /\A(?<year>\d\d)(?<month>\d\d)(?<day>\d\d) #{SHORT_TIME}/,
        dots: /\A(?<day>\d\d)\.(?<month>\d\d)\.(?<year>\d{4})[ T]#{SHORT_TIME}/,
        basic: /\A#{DIGITS}(?:[.,](?<fraction>\d{1,9}))?#{ZONE}?(?!\w)/,
        # seconds, milliseconds, microseconds or nanoseconds since 1970
        epoch: /\A(?<epoch>\d{10}(?:\.\d{1,9})?|\d{13}|\d{16}|\d{19})(?![\w.])/
      }.freeze

      # As JSON of .NET has times: milliseconds since 1970 (common practice).
      DATE_OBJECT = %r{\A/Date\((\d{13})(?:[+-]\d{4})?\)/\z}

      ACCESS_WITHOUT_ZONE = "22/Nov/2026:06:12:08".bytesize

      # Which forms can start with a byte.
      BY_FIRST_BYTE =
        Hash
          .new(NOTHING)
          .merge(
            **("0".."9").to_h { |digit| [digit.ord, %i[iso slashes dots basic epoch access day_month dashes]] },
            **"JFMASOND".each_char.to_h { |letter| [letter.ord, %i[bsd half_days]] },
            **"MTWFS".each_char.to_h do |letter|
              [letter.ord, /[MFS]/.match?(letter) ? %i[bsd half_days ctime mail weekday] : %i[ctime mail weekday]]
            end
          )
          .freeze

      # What may follow the seconds of an ISO stamp.
      ISO_TAIL = /\G(?:[.,](\d{1,9}))?(?: ?(Z|[+-]\d\d(?::?\d\d)?|#{ZoneNames::PATTERN})(?![\w:]))?/
      # The commonest of these is looked at byte by byte: a point, so many digits, and Z at the end or before a blank.
      DIGITS_OF_A_SECOND = 6
      TENS = (0..DIGITS_OF_A_SECOND).map { |power| 10**power }.freeze
      POINT, ZULU, BLANK, ZERO, SIX, NINE = ".Z 069".bytes
      SIGNS = "+-".bytes.freeze
      ISO_MINUTE = /\A\d{4}-\d\d-\d\d[T _][ \d]\d:\d\d:/

      module_function

      # @param text [String] starts with the stamp, if there is one
      # @param clock [Clock]
      # @param forms [Array<Symbol>, nil] the forms to try; all that fit by default
      # @param remember [Boolean] whether ISO and BSD stamps of the minute before may be told sooner
      # @return [Found, nil]
      def read(text, clock, forms = nil, remember: true)
        found = remembered(text, clock) if remember
        return found if found

        (forms || BY_FIRST_BYTE[text.getbyte(0)]).each do |form|
          match = FORMS[form].match(text) or next
          found = resolve(form, match, clock)
          return found if found
        end
        nil
      end

      # @param text [String] the time of an access log line: day/month/year:time zone; some leave the zone out
      # @return [Found, nil]
      def read_access(text, clock)
        second = two_digits(text, 18) or return
        base = clock.remember(text.byteslice(0, 17) << text.byteslice(20, 8).to_s) do
          match = FORMS[:access].match(text)
          (match && resolve(:access, match, clock)&.us&.-(second * Clock::SECOND)) || false
        end
        base &&
          Found.new(
            base + (second * Clock::SECOND), text.bytesize,
            text.bytesize > ACCESS_WITHOUT_ZONE ? NOTHING : ZONE_INFERRED
          )
      end

      # @param text [String, Numeric] a value that should be a time and nothing else
      # @return [Found, nil]
      def read_value(text, clock)
        text = (text.is_a?(Float) ? format("%.6f", text) : text.to_s).b
        text = text[DATE_OBJECT, 1] || text
        found = read(text, clock)
        found if found && found.size == text.bytesize
      end

      # Most lines share their minute with the line before: its calendar is worked out once. ISO and BSD stamps only.
      def remembered(text, clock)
        if text.getbyte(4) == 45 && text.getbyte(16) == 58
          base = clock.remember_start(text, 16) { iso_minute(text, clock) } or return
          second = two_digits(text, 17) and iso_tail(text, base + second, clock)
        elsif text.getbyte(3) == 32 && text.getbyte(12) == 58 && (text.getbyte(15) || 32) == 32 && !zone_follows?(text)
          base = clock.remember_start(text, 12) { bsd_minute(text, clock) } or return
          second = two_digits(text, 13) and Found.new(base + (second * Clock::SECOND), 15, YEAR_INFERRED)
        end
      end
      private_class_method :remembered

      # @return [Integer, nil] 0 to 60
      def two_digits(text, at)
        tens = text.getbyte(at) || 0
        ones = text.getbyte(at + 1) || 0
        return if tens < ZERO || tens > SIX || ones < ZERO || ones > NINE

        number = ((tens - ZERO) * 10) + ones - ZERO
        number if number <= 60
      end
      private_class_method :two_digits

      # @return [Integer, false] seconds since 1970 as if the stamp were UTC
      def iso_minute(text, clock)
        return false unless ISO_MINUTE.match?(text)

        year, *civil = text.unpack("a4xa2xa2xa2xa2").map(&:to_i)
        us = clock.utc(year, [*civil, 0, 0], 0)
        us ? us / Clock::SECOND : false
      end
      private_class_method :iso_minute

      # @return [Integer, false] microseconds UTC
      def bsd_minute(text, clock)
        match = FORMS[:bsd].match("#{text.byteslice(0, 12)}:00")
        (match && resolve(:bsd, match, clock)&.us) || false
      end
      private_class_method :bsd_minute

      def iso_tail(text, base, clock)
        found = fraction_utc(text, base)
        return found if found

        tail = ISO_TAIL.match(text, 19)
        zone = tail[2]
        if zone
          Found.new(
            ((base - (offset_minutes(zone, clock) * 60)) * Clock::SECOND) + micros(tail[1]), tail.end(0), NOTHING
          )
        else
          Found.new((clock.to_utc(base) * Clock::SECOND) + micros(tail[1]), tail.end(0), ZONE_INFERRED)
        end
      end
      private_class_method :iso_tail

      # @return [Found, nil] nil when something else follows the second than a fraction of it in UTC
      def fraction_utc(text, base)
        return unless text.getbyte(19) == POINT

        micros = 0
        at = 20
        while (byte = text.getbyte(at)) && byte >= ZERO && byte <= NINE && at < 20 + DIGITS_OF_A_SECOND
          micros = (micros * 10) + byte - ZERO
          at += 1
        end
        return unless byte == ZULU && at > 20 && ((follows = text.getbyte(at + 1)).nil? || follows == BLANK)

        Found.new((base * Clock::SECOND) + (micros * TENS[20 + DIGITS_OF_A_SECOND - at]), at + 1, NOTHING)
      end
      private_class_method :fraction_utc

      def zone_follows?(text)
        byte = text.getbyte(16)
        byte && (byte == 90 || byte == 85 || byte == 71 || byte == 43 || byte == 45) # Z U G + -
      end
      private_class_method :zone_follows?

      def resolve(form, match, clock)
        return epoch(match) if form == :epoch

        region = told(match, "region")
        other = region && clock.of(region)
        # What is no zone's name is the text behind the stamp.
        stop = region && other.nil? ? match.begin("region") - 1 : match.end(0)
        clock = other || clock
        month = (name = told(match, "month_name")) ? Clock::MONTHS[name] : match[:month].to_i
        hour = (half = told(match, "half")) ? hour_of_day(match[:hour].to_i, half) : match[:hour].to_i
        civil = [month, match[:day].to_i, hour, match[:minute].to_i, match[:second].to_i, micros(match[:fraction])]
        zone = told(match, "zone")
        if (year = match[:year])
          us = clock.utc(year.bytesize == 2 ? 2000 + year.to_i : year.to_i, civil, zone && offset_minutes(zone, clock))
          us && Found.new(us, stop, zone || other ? NOTHING : ZONE_INFERRED)
        else
          us = clock.utc_without_year(civil, zone && offset_minutes(zone, clock))
          us && Found.new(us, stop, zone ? ONLY_YEAR_INFERRED : YEAR_INFERRED)
        end
      end
      private_class_method :resolve

      def told(match, name) = match.names.include?(name) ? match[name] : nil
      private_class_method :told

      # @return [Integer] 24 and more where a half of a day has no such hour
      def hour_of_day(hour, half)
        if hour.between?(1, 12)
          (hour % 12) + (half == "P" ? 12 : 0)
        else
          24
        end
      end
      private_class_method :hour_of_day

      def micros(fraction)
        return 0 unless fraction

        case fraction.bytesize
        when 3 then fraction.to_i * 1000
        when 6 then fraction.to_i
        else fraction.byteslice(0, 6).ljust(6, "0").to_i
        end
      end
      private_class_method :micros

      # @return [Integer] east of UTC
      def offset_minutes(zone, clock)
        return 0 if zone == "Z"
        return clock.named_offset(zone) || ZoneNames::MINUTES.fetch(zone) unless SIGNS.include?(zone.getbyte(0))

        minutes = (zone.byteslice(1, 2).to_i * 60) + zone.byteslice(-2, 2).to_i * (zone.bytesize > 3 ? 1 : 0)
        zone.start_with?("-") ? -minutes : minutes
      end
      private_class_method :offset_minutes

      def epoch(match)
        digits = match[:epoch]
        whole, fraction = digits.split(".")
        us = case whole.bytesize
        when 10 then (whole.to_i * 1_000_000) + micros(fraction)
        when 13 then whole.to_i * 1000
        when 16 then whole.to_i
        else whole.to_i / 1000
        end
        Found.new(us, match.end(0), NOTHING) if Clock::PLAUSIBLE.cover?(us)
      end
      private_class_method :epoch
    end
  end
end
