# frozen_string_literal: true

module Northdrift
  module Store
    # The leading stamp of a record says its time a second time. Where it is written in one of the usual forms, a byte
    # stands for it, and the stamp is made from the time again: a tenth of the rows' size. Stamps that would not come out
    # the same to the letter are kept as they are.
    module Head
      # What a byte stands for; no stamp has these bytes itself.
      FORMS = {
        "\x01" => ->(iso, _, micros) { format("%s.%06dZ", iso, micros) },
        "\x02" => ->(iso, _, micros) { format("%s.%03dZ", iso, micros / 1000) },
        "\x03" => ->(iso, _, _) { "#{iso}Z" },
        "\x04" => ->(_, bsd, _) { bsd },
        "\x05" => ->(iso, _, micros) { format("%s.%06d+00:00", iso, micros) }
      }.freeze
      MARK = /[\x01-\x05]/n
      SECONDS_KEPT = 5000

      @seconds = {}

      module_function

      # @param head [String] bytes
      # @param time_us [Integer]
      # @return [String]
      def shorten(head, time_us)
        return head if head.empty?

        iso, bsd = second(time_us / 1_000_000)
        if (at = head.index(iso))
          rest = head.byteslice(at + 19, 13)
          mark, size = iso_form(rest, time_us % 1_000_000)
          mark ? head.byteslice(0, at) << mark << head.byteslice(at + 19 + size, head.bytesize) : head
        elsif (at = head.index(bsd))
          head.byteslice(0, at) << "\x04" << head.byteslice(at + 15, head.bytesize)
        else
          head
        end
      end

      # @return [String] the head as it was
      def restore(head, time_us)
        mark = head[MARK] or return head
        iso, bsd = second(time_us / 1_000_000)
        head.sub(mark) { FORMS.fetch(mark).call(iso, bsd, time_us % 1_000_000) }
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

      def second(number)
        @seconds[number] || begin
          @seconds.clear if @seconds.size > SECONDS_KEPT
          time = Time.at(number, in: "UTC")
          @seconds[number] = [time.strftime("%Y-%m-%dT%H:%M:%S"), time.strftime("%b %e %H:%M:%S")].freeze
        end
      end
      private_class_method :second
    end
  end
end
