# frozen_string_literal: true

module Northdrift
  module Server
    # Prints how the records of a part would be read, and why so.
    module Preview
      Enough = Class.new(StandardError)

      module_function

      # @param part [Intake::Parts::Part]
      # @param out [IO]
      # @return [String, nil] what stands in the way
      def print(part, out, zone:, machine:, limit:)
        out.puts Text.display(part.name)
        problem = part.problem || unreadable(part.input)
        return out.puts("  #{problem}") || problem if problem

        records(part, zone, machine, limit) { |event| show(event, out) }
        nil
      rescue Intake::Parts::Damaged => error
        out.puts "  #{error.message}"
        error.message
      end

      def unreadable(input)
        start = input.peek(Intake::Magic::PROBE)
        start.empty? ? "empty: there is nothing in it" : Intake::Magic.not_text(start)
      end
      private_class_method :unreadable

      def records(part, zone, machine, limit)
        reference = part.modified_us || Store::Clock.now_us
        context = Reading::Context.new(clock: Reading::Clock.new(zone: zone, reference_us: reference), machine: machine)
        seen = 0
        records = Reading::Records.new(context) do |event|
          yield event
          raise Enough if (seen += 1) >= limit
        end
        mark, encoding = Intake::Magic.bom(part.input.peek(4))
        input = mark ? Intake::Decoder.new(part.input, mark, encoding) : part.input
        while (chunk = input.read(1 << 16))
          records.push(chunk)
        end
        records.finish
      rescue Enough
        nil
      end
      private_class_method :records

      def show(event, out)
        reader = Reading::Catalogue[event.reader]
        out.puts "  line #{event.line_number}: #{reader::TITLE} (#{reader::WHY})"
        inferred = event.inferred.empty? ? "" : " (inferred: #{event.inferred.join(', ')})"
        rows = {
          "time" => event.time.strftime("%Y-%m-%dT%H:%M:%S.%6NZ") + inferred,
          "severity" => "#{Severity.name(event.severity)} (#{event.severity_rule})", "host.name" => event.machine,
          "service.name" => event.service, "message" => event.message, "note" => event.note
        }
        rows.merge(event.constants, event.fields).compact.each do |name, value|
          out.puts "    #{name.ljust(20)} #{Text.display(value.to_s).gsub("\n", "\n#{' ' * 25}")}"
        end
      end
      private_class_method :show
    end
  end
end
