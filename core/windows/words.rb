# frozen_string_literal: true

require "active_support"
require "active_support/time"
require "chronic"

module Northdrift
  module Windows
    # Reads a window of time from words: "yesterday noon", "14 Nov 06:12 ± 5 min", "last tuesday", "today 06:02 – 06:26",
    # "last 6 hours", "since boot of tix-app-1", ISO 8601 stamps, and "everything".
    class Words
      # @!attribute from_us [Integer, nil] microseconds UTC; nil: from the first event
      # @!attribute to_us [Integer, nil] end, not included; nil: to the last
      Window = Struct.new(:from_us, :to_us)

      # The words could not be read. Its message says which.
      Unclear = Class.new(Error)

      SECOND = 1_000_000
      UNITS = { "s" => 1, "sec" => 1, "second" => 1, "m" => 60, "min" => 60, "minute" => 60, "h" => 3600, "hour" => 3600,
                "d" => 86_400, "day" => 86_400, "w" => 604_800, "week" => 604_800 }.freeze
      AMOUNT = /(\d+(?:\.\d+)?)?\s*(#{UNITS.keys.join('|')})s?/
      # A moment alone is looked at with so much around it.
      AROUND = 15 * 60

      ISO = /\A(\d{4})-(\d\d)-(\d\d)(?:[t ](\d\d):(\d\d)(?::(\d\d)(\.\d+)?)?)? ?(z|utc|[+-]\d\d:?\d\d)?\z/i

      # Chronic passes over words that it does not know; a person should hear of them instead.
      VOCABULARY = /\A(?:\d[\d:.\/-]*(?:am|pm|st|nd|rd|th)?|am|pm|at|on|in|of|the|this|last|past|next|ago|before|after|now|today|yesterday|tomorrow|noon|midnight|morning|afternoon|evening|night|
                     (?:second|minute|hour|day|week|weekend|fortnight|month|year)s?|mon|tue|tues|wed|thu|thur|thurs|fri|sat|sun|(?:mon|tues|wednes|thurs|fri|satur|sun)day|
                     jan|feb|mar|apr|may|jun|jul|aug|sep|sept|oct|nov|dec|january|february|march|april|june|july|august|september|october|november|december)\z/xi

      # Chronic keeps its settings for the whole process.
      LOCK = Mutex.new

      # @param zone [String] IANA zone that the words are in
      # @param now_us [Integer]
      # @param boots [#call] takes a machine's name, returns when it last started (microseconds UTC) or nil
      def initialize(zone:, now_us:, boots: ->(_) {})
        @zone = ActiveSupport::TimeZone[zone] or raise Unclear, "there is no time zone “#{zone}”"
        @now_us = now_us
        @boots = boots
      end

      # @param words [String]
      # @return [Window]
      # @raise [Unclear]
      def window(words)
        text = words.strip.downcase.gsub(/[–—]/, "-").gsub(/\s+/, " ")
        case text
        when "", "everything", "all", "all time" then Window.new(nil, nil)
        when /\A(?:the )?(?:last|past) #{AMOUNT}\z/o then back(amount($1, $2))
        when /\Asince boot of (\S+)\z/ then Window.new(boot($1), @now_us)
        when /\Asince (.+)\z/ then Window.new(first(span($1)), @now_us)
        when /\A(.+?) ?(?:±|\+-|\+\/-) ?#{AMOUNT}\z/o then around(moment($1), amount($2, $3))
        else range(text)
        end
      end

      # @param words [String]
      # @return [Integer] microseconds UTC
      # @raise [Unclear]
      def moment(words)
        return boot(Regexp.last_match(1)) if words.strip.downcase =~ /\A(?:since )?boot of (\S+)\z/

        first(span(words.strip))
      end

      private

      def range(text)
        text = text.delete_prefix("from ").delete_prefix("between ")
        parts = text.split(/ (?:to|until|till|and|-) | -|- /, 2)
        parts = split_clock(text) if parts.size == 1
        return one(span(text)) if parts.size == 1

        from = span(parts[0])
        to = span(later_part(parts))
        # "until 06:26" ends with the clock's stroke, "until tuesday" with the day.
        Window.new(first(from), to.end - to.begin < 3600 ? first(to) : last(to))
      end

      # "06:02-06:26"
      def split_clock(text)
        match = /\A(.*\d\d?:\d\d(?::\d\d)?)-(\d\d?:\d\d(?::\d\d)?)\z/.match(text)
        match ? match.captures : [text]
      end

      # "yesterday 06:02 – 06:26": the day stands once.
      def later_part(parts)
        clock = /\A\d\d?(?::\d\d){1,2}\z/
        day = parts[0].sub(/ ?(?:at )?\d\d?(?::\d\d){1,2}(?:\.\d+)?\z/, "")
        parts[1].match?(clock) && !day.empty? && day != parts[0] ? "#{day} #{parts[1]}" : parts[1]
      end

      def one(span)
        return Window.new(first(span), last(span)) if span.end - span.begin >= 60

        around(first(span), AROUND)
      end

      def around(moment_us, seconds) = Window.new(moment_us - (seconds * SECOND).round, moment_us + (seconds * SECOND).round)
      def back(seconds) = Window.new(@now_us - (seconds * SECOND).round, @now_us)
      def amount(number, unit) = (number || 1).to_f * UNITS.fetch(unit)
      def first(span) = (span.begin.to_r * SECOND).to_i
      def last(span) = (span.end.to_r * SECOND).to_i

      def boot(machine)
        @boots.call(machine) or raise Unclear, "no start of a machine “#{machine}” is in the lines"
      end

      # @return [Range] of times; as long as the words are vague
      def span(words)
        ago(words) || iso(words) || LOCK.synchronize { chronic(words) } || raise(Unclear, "“#{words}” is not understood as a time")
      end

      def ago(words)
        match = /\A#{AMOUNT} ago\z/o.match(words) or return
        moment = @zone.at((@now_us / SECOND) - amount(match[1], match[2]))
        moment..moment
      end

      def iso(words)
        match = ISO.match(words) or return
        year, month, day, hour, minute, second = match.captures.first(6)
        zone = match[8] ? ActiveSupport::TimeZone[0] : @zone
        start = zone.local(year.to_i, month.to_i, day.to_i, hour.to_i, minute.to_i, second.to_i + (match[7] || 0).to_r)
        start -= offset(match[8]) if match[8]
        start..(start + (second ? 1 : hour ? 60 : 86_400))
      rescue ArgumentError
        nil
      end

      def offset(text)
        return 0 if %w[z utc].include?(text.downcase)

        seconds = (text[1, 2].to_i * 3600) + (text[-2, 2].to_i * 60)
        text.start_with?("-") ? -seconds : seconds
      end

      def chronic(words)
        return unless words.split(/[\s,]+/).all?(VOCABULARY)

        Chronic.time_class = @zone
        now = @zone.at(@now_us / SECOND)
        # "noon" alone confuses nobody but the parser; a bare clock time means today.
        words = words.gsub(/\bnoon\b/, "12:00").gsub(/\bmidnight\b/, "00:00")
        words = "today #{words}" if words.match?(/\A\d\d?(?::\d\d){1,2}\z/)
        words = words.sub(/\A(\d\d?) ([a-z]{3,9})\.?(?: (\d{4}))?(?=\z| )/) { "#{$2} #{$1}#{$3 && " #{$3}"}" }
        found = Chronic.parse(words, now: now, context: :past, guess: false, ambiguous_time_range: :none, hours24: true)
        found && (found.begin..found.end)
      rescue ArgumentError, TypeError, NoMethodError, RangeError
        nil # what it stumbles over, it does not understand
      end
    end
  end
end
