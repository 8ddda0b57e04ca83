# frozen_string_literal: true

module Northdrift
  module Reading
    # The written forms of date and time, one expression each; what its groups are called is what they mean. Where two
    # habits write the same numbers in another order, the groups are `one`, `two` and `three`, and {DateOrder} says
    # which is which. A form without a day tells the time of some day. Where no source is named, the form is common
    # practice.
    module StampForms
      HALF = '(?:(?: |\xE2\x80\xAF)?(?<half>[AaPp])\.?[Mm]\b\.?)?'
      # A point or a comma before the fraction; Java's older servers have a colon.
      CLOCK = ':(?<minute>\d\d):(?<second>\d\d)(?:[.,](?<fraction>\d{1,9})|:(?<fraction>\d{3})(?!\d))?'
      TIME = "(?<hour>\\d\\d)#{CLOCK}".freeze
      # Some programs write the hours before ten with one digit, behind one more blank or not; some count to twelve.
      SHORT_TIME = "(?<hour>[ \\d]?\\d)#{CLOCK}#{HALF}".freeze
      MONTH = "(?<month_name>Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec)"
      LONG_MONTH =
        "(?<month_name>Jan(?:uary)?|Feb(?:ruary)?|Mar(?:ch)?|Apr(?:il)?|May|June?|July?|Aug(?:ust)?|Sep(?:tember)?|" \
        "Oct(?:ober)?|Nov(?:ember)?|Dec(?:ember)?)"
      ZONE = "(?<zone>Z|[+-]\\d\\d(?::?\\d\\d)?|#{ZoneNames::PATTERN})".freeze
      # A name with a colon behind it may be the text's first word.
      ZONE_BEHIND =
        "(?: ?(?:(?<zone>Z|[+-]\\d\\d(?::?\\d\\d)?)(?!\\w|:\\d)|(?<zone>#{ZoneNames::PATTERN})(?![\\w:])))?".freeze
      SYSLOG_ZONE = '(?<zone>Z|UTC|GMT|[+-]\d\d(?::?\d\d)?)'
      REGION = '(?<region>[A-Z][\w+-]+(?:/[\w+-]+){1,2})'
      WEEKDAY = "(?:Mon|Tue|Wed|Thu|Fri|Sat|Sun)"
      LONG_WEEKDAY = "(?:(?:Mon|Tues|Wednes|Thurs|Fri|Satur|Sun)day|#{WEEKDAY})".freeze
      DAY = '(?<day>[ \d]\d|\d)'
      YEAR = '(?<year>(?:19|20)\d\d)'
      NUMERIC = '(?<year>\d{4})-(?<month>\d\d)-(?<day>\d\d)'

      # Form names as the inspector shows them. Order matters where one form starts like another.
      ALL = {
        # ISO 8601-1:2019, 5.4.2.1 (and RFC 3339, section 5.6)
        iso: /\A#{NUMERIC}(?:[T_]| {1,2}|\]\[)#{SHORT_TIME}#{ZONE_BEHIND}/n,
        # The same with the day of the week, as systemd's tools print times
        weekday: /\A#{WEEKDAY} #{NUMERIC} #{TIME}(?: #{ZONE}(?![\w:]))?/,
        # RFC 3164, section 4.1.2, and with the year that network devices add. A name there is the machine's: section
        # 5.4, example 3
        bsd: /\A#{MONTH} #{DAY}(?: (?<year>\d{4}))? #{TIME}(?: #{SYSLOG_ZONE}(?![\w:]))?(?! (?:19|20)\d\d \()/,
        # The year behind the clock, as asctime() has it, without the day of the week
        bsd_year: /\A#{MONTH} #{DAY} #{TIME} #{YEAR}(?![\w.:])/,
        # As network devices write it: the zone's name before a colon, the year first or behind the day
        device: /\A#{MONTH} #{DAY}(?: (?<year>\d{4}))? #{TIME}(?: #{ZONE}(?=:))?/,
        device_year: /\A(?<year>\d{4}) #{MONTH} #{DAY} #{TIME}(?: #{ZONE}(?=:))?/,
        # Common log format: day/month/year:time zone
        access: %r{\A(?<day>\d\d)/#{MONTH}/(?<year>\d{4})[: ]#{TIME}(?: #{ZONE})?},
        # asctime() of ISO C, and with the zone that date(1) puts before the year, others behind it
        ctime: /\A#{WEEKDAY}\ #{MONTH}\ (?<day>[ \d]\d)\ #{TIME}(?:\ (?:#{ZONE}|[A-Z]{3,4}))?\ (?<year>\d{4})
                  (?:\ #{ZONE}(?![\w:]))?/x,
        # RFC 5322, section 3.3, and the HTTP date of RFC 9110, section 5.6.7
        mail: /\A#{WEEKDAY}, (?<day>\d\d?) #{MONTH} (?<year>\d{4}) #{TIME} #{ZONE}/,
        # Names in full or short, with the day of the week or without it, in both orders
        day_month:
          /\A(?:#{LONG_WEEKDAY},? )?(?<day>\d\d?) #{LONG_MONTH},? (?<year>\d{4}),? {1,2}#{SHORT_TIME}#{ZONE_BEHIND}/n,
        month_day: /\A(?:#{LONG_WEEKDAY},? )?#{LONG_MONTH} #{DAY}, (?<year>\d{4}),? #{SHORT_TIME}#{ZONE_BEHIND}/n,
        # As NTP's daemon and database servers of old have it
        day_month_time: /\A(?<day>\d\d?) #{MONTH} #{TIME}#{ZONE_BEHIND}/,
        slashes: %r{\A(?<year>\d{4})/(?<month>\d\d)/(?<day>\d\d)(?: - |[ T,-])#{SHORT_TIME}#{ZONE_BEHIND}}n,
        # Day, month and year with dashes; Erlang has two colons before the clock, PHP the name of a zone behind it
        dashes:
          %r{\A(?<day>\d\d?)-(?i:#{MONTH})-(?<year>\d{4})(?: |::?)#{SHORT_TIME}(?: (?:#{ZONE}|#{REGION})(?![\w:/]))?}n,
        year_month_name: /\A(?<year>\d{4})-#{MONTH}-(?<day>\d\d)[ T]#{SHORT_TIME}#{ZONE_BEHIND}/n,
        month_dashes: /\A#{MONTH}-(?<day>\d\d)-(?<year>\d{4}) #{SHORT_TIME}#{ZONE_BEHIND}/n,
        joint: /\A(?<day>\d\d)#{MONTH}(?<year>\d{4})[ :]#{SHORT_TIME}#{ZONE_BEHIND}/n,
        # DIN 1355-1, and the year first as in China and Hungary
        dots: /\A(?<day>\d\d?)\.(?<month>\d\d?)\.(?<year>\d{4}|\d\d),?[ T-]#{SHORT_TIME}#{ZONE_BEHIND}/n,
        year_dots: /\A(?<year>\d{4})\.(?<month>\d\d)\.(?<day>\d\d)[ T-]#{SHORT_TIME}#{ZONE_BEHIND}/n,
        # As Chinese and Japanese have it: the signs for year, month and day
        signs: /\A(?<year>\d{4})\xE5\xB9\xB4 ?(?<month>\d\d?)\xE6\x9C\x88 ?(?<day>\d\d?)\xE6\x97\xA5 ?#{SHORT_TIME}/n,
        points: /\A(?<year>\d{4})\.(?<month>\d\d)\.(?<day>\d\d)-(?<hour>\d\d)\.(?<minute>\d\d)\.(?<second>\d\d)
                 (?::(?<fraction>\d{3}))?(?!\w)/x,
        # Numbers alone, in the order of a country
        numbers:
          %r{\A(?<one>\d\d?)(?<sign>[/-])(?<two>\d\d?)\k<sign>(?<year>\d{4})(?:,?[ T-]|,)#{SHORT_TIME}#{ZONE_BEHIND}}n,
        short_numbers:
          %r{\A(?<one>\d\d?)(?<sign>[/-])(?<two>\d\d?)\k<sign>(?<three>\d\d)(?:,?[ T-]|,)#{SHORT_TIME}#{ZONE_BEHIND}}n,
        # The year left out
        two_numbers: %r{\A(?<one>\d\d)[/-](?<two>\d\d)[ |-]#{TIME}(?![\w:])},
        # As database servers of old write it
        six: /\A(?<year>\d\d)(?<month>\d\d)(?<day>\d\d) #{SHORT_TIME}/n,
        # ISO 8601-1:2019, 5.4.2.1, basic format, and with a blank, a dash or colons between
        basic: /\A#{YEAR}(?<month>\d\d)(?<day>\d\d)(?:[T_:-]|[ ]{1,2})?
                (?<hour>\d\d):?(?<minute>\d\d):?(?<second>\d\d)(?:[.,](?<fraction>\d{1,9}))?#{ZONE}?(?!\w)/x,
        four: /\A(?<month>\d\d)(?<day>\d\d) #{TIME}(?![\w:])/,
        # IBM, "db2diag command": the zone in minutes
        iso_dots: /\A#{NUMERIC}-(?<hour>\d\d)\.(?<minute>\d\d)\.(?<second>\d\d)
                   (?:\.(?<fraction>\d{1,9})(?<east>[+-]\d{3})?)?(?!\w)/x,
        # Routers that begin with the month in small letters
        month_slashes: %r{\A(?<month_name>[a-z]{3})/(?<day>\d\d)/(?<year>\d{4}) #{TIME}},
        # Seconds and year left out, as backup programs have it
        day_month_minutes: /\A(?<day>\d\d)-#{MONTH} (?<hour>\d\d):(?<minute>\d\d)(?![\w:.])/,
        # Seconds left out, or behind a point
        minutes: /\A#{NUMERIC}[T ](?<hour>\d\d):(?<minute>\d\d)(?:\.(?<second>\d\d))?#{ZONE_BEHIND}(?![\w:])/,
        # Seconds, milliseconds, microseconds or nanoseconds since 1970, or seconds with a power of ten
        epoch: /\A(?<epoch>\d{10}(?:\.\d{1,9})?|\d{13}|\d{16}|\d{19}|\d\.\d{9,18}e\+?0?9)(?![\w.])/,
        # Seconds since 1970 as eight hexadecimal digits, and a fraction of 2^-32
        hexadecimal: /\A(?<hexadecimal>[3-7]\h{7})(?:\.(?<ticks>\h{8}))?(?= )/,
        # D. J. Bernstein, "TAI64, TAI64N, and TAI64NA", external TAI64N format
        tai: /\A@(?<tai>4\h{15})(?<nanos>\h{8})(?!\w)/,
        # A clock without a day; to the minute where a level in three letters tells that it is one
        kitchen: /\A(?<hour>\d\d?):(?<minute>\d\d)(?<half>[AP])M(?= (?:TRC|DBG|INF|WRN|ERR|FTL|PNC) )/,
        clock: /\A#{TIME}#{HALF}#{ZONE_BEHIND}(?!\w|:\d)/n
      }.freeze

      LETTERS = %i[bsd_year bsd month_day day_month month_dashes ctime mail weekday].freeze
      DIGITS = %i[
        iso slashes dots basic epoch signs points access day_month dashes numbers short_numbers year_dots
        year_month_name joint day_month_time day_month_minutes two_numbers device_year iso_dots minutes four six
        hexadecimal kitchen clock
      ].freeze

      # Those that tell a whole date in a way that little else is written in.
      DATED = (ALL.keys - %i[epoch hexadecimal clock kitchen four six two_numbers minutes]).freeze
      # Those that leave out the year or all of the date.
      SHORT = %i[two_numbers clock].freeze
      NOTHING = [].freeze

      # Which forms can start with a byte.
      BY_FIRST_BYTE =
        Hash
          .new(NOTHING)
          .merge("0123456789".bytes.to_h { |digit| [digit, DIGITS] })
          .merge("jfmasond".bytes.to_h { |letter| [letter, %i[month_slashes].freeze] })
          .merge("JFMASONDTW".bytes.to_h { |letter| [letter, LETTERS] })
          .merge("@".ord => %i[tai].freeze)
          .freeze
      # The same of some forms alone.
      FIRST_OF = [DATED, SHORT].to_h do |forms|
        [forms, BY_FIRST_BYTE.transform_values do |fit|
          (forms & fit).freeze
        end.tap { |all| all.default = NOTHING }.freeze]
      end.compare_by_identity.freeze
      # What fits none of several forms is told so at once.
      ANY_OF =
        [BY_FIRST_BYTE, *FIRST_OF.values]
          .flat_map(&:values)
          .reject(&:empty?)
          .to_h { |forms| [forms, Regexp.union(ALL.values_at(*forms))] }
          .compare_by_identity
          .freeze
    end
  end
end
