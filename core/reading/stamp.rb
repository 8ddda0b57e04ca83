# frozen_string_literal: true

require "date"

module Northdrift
  module Reading
    # Timestamps in their usual written forms ({StampForms}), at the start of a text or within it.
    module Stamp
      # @!attribute us [Integer] microseconds UTC
      # @!attribute size [Integer] bytes that the stamp takes
      # @!attribute inferred [Array<Symbol>] :date, :year, :zone where the stamp left them out
      Found = Struct.new(:us, :size, :inferred)

      NOTHING = [].freeze
      ZONE_INFERRED = %i[zone].freeze
      YEAR_INFERRED = %i[year zone].freeze

      # As JSON of .NET has times: milliseconds since 1970 (common practice).
      DATE_OBJECT = %r{\A/Date\((\d{13})(?:[+-]\d{4})?\)/\z}

      ACCESS_WITHOUT_ZONE = "22/Nov/2026:06:12:08".bytesize

      # What may follow the seconds of an ISO stamp.
      ISO_TAIL = /\G(?:[.,](\d{1,9}))?(?: ?(Z(?!\w)|[+-]\d\d(?::?\d\d)?(?!\w|:\d)|(?:#{ZoneNames::PATTERN})(?![\w:])))?/
      # What follows a clock that is told by another form: half a day, a colon before the fraction.
      OTHER_TAIL = /\G(?:(?: |\xE2\x80\xAF)?[AaPp]\.?[Mm]\b|:\d{3}(?!\d))/n
      # The commonest of these is looked at byte by byte: a point, so many digits, and Z at the end or before a blank.
      DIGITS_OF_A_SECOND = 6
      TENS = (0..DIGITS_OF_A_SECOND).map { |power| 10**power }.freeze
      POINT, ZULU, BLANK, ZERO, SIX, NINE = ".Z 069".bytes
      ISO_MINUTE = /\A\d{4}-\d\d-\d\d[T _][ \d]\d:\d\d:/

      # So many bytes of a line are looked through for a stamp.
      REACH = 160
      # No stamp is longer.
      LONGEST = 64
      # Where one may start: not within a word, a number or a path.
      DATE = %r{(?<![\w./])(?:\d{1,4}[-/.]\w|\d{8}|\d\d?[ ]?[A-Z][a-z]{2}|[JFMASOND][a-z]{2,8}[ -]\d
               |[MTWFS][a-z]{2,8},?[ ])}x
      SHORT = %r{(?<![\w./:-])(?:\d\d[/-]\d\d[ |-])?\d\d:\d\d:\d\d}
      WORD = /\G\w/

      module_function

      # @param text [String] starts with the stamp, if there is one
      # @param clock [Clock]
      # @param forms [Array<Symbol>, nil] the forms to try; all that fit by default
      # @param remember [Boolean] whether ISO and BSD stamps of the minute before may be told sooner
      # @return [Found, nil]
      def read(text, clock, forms = nil, remember: true)
        found = remembered(text, clock) if remember
        return found if found
        return first(text, clock, forms) if forms

        forms = StampForms::BY_FIRST_BYTE[text.getbyte(0)]
        latest = clock.latest_form
        (forms.include?(latest) && match(text, clock, latest)) || first(text, clock, forms)
      end

      # Looks for a stamp of a whole date wherever it stands near the start of a text.
      # @param text [String]
      # @param clock [Clock]
      # @return [Array(Found, Integer), nil] and the byte where it starts
      def find(text, clock) = clock.remember_find(text) { search(text, clock, DATE, StampForms::DATED) }

      # The same for one that leaves out the year or all of the date.
      # @return [Array(Found, Integer), nil]
      def find_short(text, clock) = search(text, clock, SHORT, StampForms::SHORT)

      def search(text, clock, candidate, forms)
        forms = StampForms::FIRST_OF.fetch(forms)
        near = text.bytesize > REACH + LONGEST ? text.byteslice(0, REACH + LONGEST) : text
        at = -1
        while (at = near.index(candidate, at + 1)) && at < REACH
          found = first(near.byteslice(at, LONGEST), clock, forms[near.getbyte(at)])
          return [found, at] if found && !WORD.match?(near, at + found.size)
        end
        nil
      end
      private_class_method :search

      # @param text [String] the time of an access log line: day/month/year:time zone; some leave the zone out
      # @return [Found, nil]
      def read_access(text, clock)
        second = two_digits(text, 18) or return
        base = clock.remember(text.byteslice(0, 17) << text.byteslice(20, 8).to_s) do
          match(text, clock, :access)&.us&.-(second * Clock::SECOND) || false
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

      # @param forms [Array<Symbol>]
      def first(text, clock, forms)
        any = StampForms::ANY_OF[forms]
        return if any && !any.match?(text)

        forms.each do |form|
          found = match(text, clock, form)
          return found if found
        end
        nil
      end
      private_class_method :first

      def match(text, clock, form)
        match = StampForms::ALL[form].match(text) or return
        StampMatch.new(form, match, clock).found&.tap { clock.latest_form = form }
      end
      private_class_method :match

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
        match("#{text.byteslice(0, 12)}:00", clock, :bsd)&.us || false
      end
      private_class_method :bsd_minute

      def iso_tail(text, base, clock)
        found = fraction_utc(text, base)
        return found if found

        tail = ISO_TAIL.match(text, 19)
        zone = tail[2]
        if zone
          seconds = base - (StampMatch.offset_minutes(zone, clock) * 60)
          Found.new((seconds * Clock::SECOND) + StampMatch.micros(tail[1]), tail.end(0), NOTHING)
        elsif !OTHER_TAIL.match?(text, tail.end(0))
          Found.new((clock.to_utc(base) * Clock::SECOND) + StampMatch.micros(tail[1]), tail.end(0), ZONE_INFERRED)
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

      # A zone, or the year.
      def zone_follows?(text)
        byte = text.getbyte(16)
        byte && (byte == 90 || byte == 85 || byte == 71 || byte == 43 || byte == 45 || byte == 50) # Z U G + - 2
      end
      private_class_method :zone_follows?
    end
  end
end
