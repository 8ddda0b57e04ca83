# frozen_string_literal: true

module Northdrift
  module Store
    # The leading stamp of a record says its time a second time. Where it is written in one of the usual forms, a byte
    # stands for it, and the stamp is made from the time again: a tenth of the rows' size. Stamps that would not come
    # out the same to the letter are kept as they are.
    module Head
      # What a byte stands for; no stamp has these bytes itself.
      FORMS = {
        "\x01" => ->(iso, _, second, micros) { format("%s%s.%06dZ", iso, second, micros) },
        "\x02" => ->(iso, _, second, micros) { format("%s%s.%03dZ", iso, second, micros / 1000) },
        "\x03" => ->(iso, _, second, _) { "#{iso}#{second}Z" },
        "\x04" => ->(_, bsd, second, _) { "#{bsd}#{second}" },
        "\x05" => ->(iso, _, second, micros) { format("%s%s.%06d+00:00", iso, second, micros) }
      }.freeze
      ALONE = FORMS.keys.to_h { |mark| [mark, "#{mark} ".b.freeze] }.freeze
      MARK = /[\x01-\x05]/n
      SECONDS = (0..59).map { |second| format("%02d", second).freeze }.freeze
      MINUTES_KEPT = 5000
      Z = "Z".ord
      POINT = ".".ord
      PLUS = "+".ord
      BLANK = " ".ord
      MINUTE_US = 60_000_000

      @minutes = {}

      module_function

      # @param record [String] bytes
      # @param size [Integer] bytes of the record that its head is
      # @param time_us [Integer]
      # @return [String]
      def shorten(record, size, time_us)
        iso, bsd = minute(time_us / MINUTE_US)
        second = time_us / 1_000_000 % 60
        at = record.index(iso) unless record.start_with?(bsd)
        if at && number(record, at + 17, 2) == second
          iso(record, size, at, at + 19, time_us % 1_000_000)
        elsif (at = record.index(bsd)) && number(record, at + 13, 2) == second
          marked(record, size, at, "\x04", at + 15)
        else
          record.byteslice(0, size)
        end
      end

      # @return [String] the head as it was
      def restore(head, time_us)
        mark = head[MARK] or return head
        head.sub(mark) do
          FORMS.fetch(mark).call(*minute(time_us / MINUTE_US), SECONDS[time_us / 1_000_000 % 60], time_us % 1_000_000)
        end
      end

      # @param at [Integer] where the stamp starts
      # @param stop [Integer] where its second ends
      def iso(record, size, at, stop, micros)
        case record.getbyte(stop)
        when Z then return marked(record, size, at, "\x03", stop + 1) if micros.zero?
        when POINT
          if record.getbyte(stop + 7) == Z && number(record, stop + 1, 6) == micros
            return marked(record, size, at, "\x01", stop + 8)
          end
          if record.getbyte(stop + 4) == Z && number(record, stop + 1, 3)&.*(1000) == micros
            return marked(record, size, at, "\x02", stop + 5)
          end
          if record.getbyte(stop + 7) == PLUS && record.byteslice(stop + 7, 6) == "+00:00" &&
             number(record, stop + 1, 6) == micros
            return marked(record, size, at, "\x05", stop + 13)
          end
        end
        record.byteslice(0, size)
      end
      private_class_method :iso

      # Mostly the stamp has a blank after it and then the head is over.
      def marked(record, size, at, mark, stop)
        return record.byteslice(0, size) if stop > size
        if stop + 1 == size && record.getbyte(stop) == BLANK
          return at.zero? ? ALONE[mark] : record.byteslice(0, at) << ALONE[mark]
        end

        record.byteslice(0, at) << mark << record.byteslice(stop, size - stop)
      end
      private_class_method :marked

      # Read digit by digit: this is done for every line, and a text cut out of it would be one more thing to clear
      # away.
      # @return [Integer, nil] nil where there are not so many digits
      def number(text, at, digits)
        number = 0
        stop = at + digits
        while at < stop
          byte = text.getbyte(at)
          return unless byte && byte >= 48 && byte <= 57

          number = (number * 10) + byte - 48
          at += 1
        end
        number
      end
      private_class_method :number

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
