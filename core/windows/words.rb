# frozen_string_literal: true

module Northdrift
  module Windows
    # Reads a window of time from words: "yesterday noon", "14 Nov 06:12 ± 5 min", "last tuesday", "today 06:02 –
    # 06:26", "last 6 hours", "15m", "since boot of tix-app-1", "until 06:00", stamps as logs have them, and
    # "everything".
    class Words
      # @!attribute from_us [Integer, nil] microseconds UTC; nil: from the first event
      # @!attribute to_us [Integer, nil] end, not included; nil: to the last
      Window = Struct.new(:from_us, :to_us)

      # The words could not be read. Its message says which.
      Unclear = Class.new(Error)

      SECOND = 1_000_000
      # A moment alone is looked at with so much around it.
      AROUND = 15 * 60
      EVERYTHING = ["", "everything", "all", "all time"].freeze
      LAST = /\A(?:(?:the )?(?:last|past) |- ?)?#{Phrase::AMOUNT}\z/i
      PLUS_MINUS = %r{\A(.+?) ?(?:±|\+-|\+/-) ?(?:#{Phrase::AMOUNT}|(\d+))\z}i
      BOOT = /\A(?:since )?boot of (\S+)\z/i
      BOUND = /\A(since|from|after|until|till|before) (.+)\z/i
      BETWEEN = /\A(?:from|between) /i
      AND = / (?:to|until|till|and|-) | -|- /i
      CLOCKS = /\A(.*\d\d?:\d\d(?::\d\d)?)-(\d\d?:\d\d(?::\d\d)?)\z/

      # @param zone [String] IANA zone that the words are in
      # @param now_us [Integer]
      # @param boots [#call] takes a machine's name, returns when it last started (microseconds UTC) or nil
      def initialize(zone:, now_us:, boots: ->(_) {})
        @zone = ActiveSupport::TimeZone[zone] or raise Unclear, "there is no time zone “#{zone}”"
        @now_us = now_us
        @boots = boots
        @phrase = Phrase.new(zone: @zone, now_us: now_us)
      end

      # @param words [String]
      # @return [Window]
      # @raise [Unclear]
      def window(words)
        words = Text.utf8(words)
        text = words.strip.gsub(/[–—]/, "-").gsub(/\s+/, " ")
        return Window.new(nil, nil) if EVERYTHING.include?(text.downcase)

        window = whole(text)
        if window.from_us && window.to_us && window.to_us <= window.from_us
          raise Unclear, "“#{words.strip}” ends before it starts"
        end

        window
      end

      # @param words [String]
      # @return [Integer] microseconds UTC
      # @raise [Unclear]
      def moment(words)
        text = Text.utf8(words).strip
        (match = BOOT.match(text)) ? boot(match[1]) : first(span(text))
      end

      private

      def whole(text)
        if (exact = exactly(text))
          one(exact)
        elsif (match = LAST.match(text))
          back(seconds(match[1], match[2]))
        elsif (match = BOOT.match(text))
          Window.new(boot(match[1]), @now_us)
        elsif (match = PLUS_MINUS.match(text))
          around(moment(match[1]), match[4] ? match[4].to_i * 60 : seconds(match[2], match[3]))
        else
          range(text)
        end
      end

      def range(text)
        parts = text.sub(BETWEEN, "").split(AND, 2)
        parts = split_clock(parts.first) if parts.size == 1
        return between(*parts) if parts.size == 2

        (match = BOUND.match(text)) ? bound(match[1].downcase, span(match[2])) : one(span(text))
      end

      # "after tuesday" begins when that is over, "until tuesday" ends then.
      def bound(word, span)
        case word
        when "until", "till" then Window.new(nil, stop(span))
        when "before" then Window.new(nil, first(span))
        when "after" then Window.new(stop(span), @now_us)
        else Window.new(first(span), @now_us)
        end
      end

      # "yesterday 06:02 – 06:26": the day stands once. "22 Nov 23:30 – 00:30" goes past midnight.
      def between(from, to)
        start = span(from)
        return past_midnight(start, to, bare: @phrase.bare_clock?(from)) if @phrase.bare_clock?(to)

        Window.new(first(start), stop(span(to)))
      end

      def past_midnight(start, clock, bare:)
        from = start.begin
        to = on(from.to_date, clock)
        to = on(from.to_date + 1, clock) if to <= from
        # Clocks alone are those of the latest such stretch, unless most of it is still to come.
        if bare && (us(to) - @now_us) * 2 > us(to) - us(from)
          from, to = [from, to].map { |time| time.advance(days: -1) }
        end
        Window.new(us(from), us(to))
      end

      def on(date, clock) = span("#{date} #{clock.sub(/\Aat /i, '')}").begin

      # "06:02-06:26"
      def split_clock(text)
        match = CLOCKS.match(text)
        match ? match.captures : [text]
      end

      def one(span)
        return Window.new(first(span), last(span)) if span.end - span.begin >= 60

        around(first(span), AROUND)
      end

      def around(moment_us, seconds)
        Window.new(moment_us - (seconds * SECOND).round, moment_us + (seconds * SECOND).round)
      end

      def back(seconds) = Window.new(@now_us - (seconds * SECOND).round, @now_us)
      def us(time) = (time.to_r * SECOND).to_i
      def first(span) = us(span.begin)
      def last(span) = us(span.end)
      # A moment ends with the clock's stroke, a day with itself.
      def stop(span) = span.end - span.begin < 60 ? first(span) : last(span)

      def boot(machine)
        @boots.call(machine) or raise Unclear, "no start of a machine “#{machine}” is in the lines"
      end

      def span(words) = told { @phrase.span(words) } || raise(Unclear, "“#{words}” is not understood as a time")
      def seconds(number, unit) = told { Phrase.seconds(number, unit) }
      def exactly(words) = told { @phrase.exact(words) }

      def told
        yield
      rescue Phrase::Mistaken => error
        raise Unclear, error.message
      end
    end
  end
end
