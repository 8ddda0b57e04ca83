# frozen_string_literal: true

module Northdrift
  module Store
    # The leading stamp of a record says its time a second time. Where it is written in one of the usual forms, a byte
    # stands for it, and the stamp is made from the time again: a tenth of the rows' size. Stamps that would not come out
    # the same to the letter are kept as they are.
    module Head
      # What a byte stands for; no stamp has these bytes itself.
      FORMS = {
        "\x01" => ->(iso, _, second, micros) { format("%s%s.%06dZ", iso, second, micros) },
        "\x02" => ->(iso, _, second, micros) { format("%s%s.%03dZ", iso, second, micros / 1000) },
        "\x03" => ->(iso, _, second, _) { "#{iso}#{second}Z" },
        "\x04" => ->(_, bsd, second, _) { "#{bsd}#{second}" },
        "\x05" => ->(iso, _, second, micros) { format("%s%s.%06d+00:00", iso, second, micros) }
      }.freeze
      MARK = /[\x01-\x05]/n
      SECONDS = (0..59).map { |second| format("%02d", second).freeze }.freeze
      MINUTES_KEPT = 5000
      MINUTE_US = 60_000_000

      @minutes = {}

      module_function

      # @param head [String] bytes
      # @param time_us [Integer]
      # @return [String]
      def shorten(head, time_us)
        return head if head.empty?

        iso, bsd = minute(time_us / MINUTE_US)
        second = SECONDS[time_us / 1_000_000 % 60]
        if (at = head.index(iso)) && head.byteslice(at + 17, 2) == second
          mark, size = iso_form(head.byteslice(at + 19, 13), time_us % 1_000_000)
          mark ? head.byteslice(0, at) << mark << head.byteslice(at + 19 + size, head.bytesize) : head
        elsif (at = head.index(bsd)) && head.byteslice(at + 13, 2) == second
          head.byteslice(0, at) << "\x04" << head.byteslice(at + 15, head.bytesize)
        else
          head
        end
      end

      # @return [String] the head as it was
      def restore(head, time_us)
        mark = head[MARK] or return head
        head.sub(mark) { FORMS.fetch(mark).call(*minute(time_us / MINUTE_US), SECONDS[time_us / 1_000_000 % 60], time_us % 1_000_000) }
      end

      # @return [Array(String, Integer), nil] the mark for what follows the second, and how long that is
      def iso_form(rest, micros)
        case rest.getbyte(0)
        when 90 then ["\x03", 1] if micros.zero? # Z
        when 46 # .
          if rest.getbyte(7) == 90 && rest.byteslice(1, 6).to_i == micros then ["\x01", 8]
          elsif rest.getbyte(4) == 90 && rest.byteslice(1, 3).to_i * 1000 == micros then ["\x02", 5]
          elsif rest.getbyte(7) == 43 && rest.byteslice(7, 6) == "+00:00" && rest.byteslice(1, 6).to_i == micros then ["\x05", 13]
          end
        end
      end
      private_class_method :iso_form

      # @return [Array(String, String)] the minute as ISO 8601 and RFC 3164 write it, up to its seconds
      def minute(number)
        @minutes[number] || begin
          @minutes.clear if @minutes.size > MINUTES_KEPT
          time = Time.at(number * 60, in: "UTC")
          @minutes[number] = [time.strftime("%Y-%m-%dT%H:%M:"), time.strftime("%b %e %H:%M:")].freeze
        end
      end
      private_class_method :minute
    end
  end
end
