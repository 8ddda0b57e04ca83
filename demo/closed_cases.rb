# frozen_string_literal: true

module Northdrift
  module Demo
    # Two investigations that came to an end: what helped is offered where the same lines come again.
    module ClosedCases
      # @!attribute finds [Array<String>] what is pinned to it: the first line of each
      One = Struct.new(:by, :title, :finds, :cause, :remedy, :effect, keyword_init: true)
      ALL = [
        One.new(
          by: "Sigrid", title: "Little Auk's gate was held closed all night",
          finds: ['host.name = gate-auk-1 "has expired"', 'host.name = gate-auk-1 "done, gate open"'],
          cause: "The certificate of the ticketing service had expired at midnight.",
          remedy: "A new certificate on the ticketing service, which renews itself now; the gate opened by itself.",
          effect: "The first sailing boarded by hand."
        ),
        One.new(
          by: "Olav", title: "A kiosk without an address",
          finds: ['host.name = dns-1 "free leases in pool auk"', 'host.name = hall-kiosk-4 "no address"'],
          cause: "The address pool of the hall was used up by the phones of a school trip.",
          remedy: "Leases of the pool last two hours instead of a day (dhcpd on dns-1).",
          effect: "hall-kiosk-4 sold no tickets for five hours."
        )
      ].freeze
      DAY_US = 86_400_000_000

      module_function

      # The database is open.
      def make
        ALL.each do |one|
          Store::Changes.start(one.by)
          write(one, one.finds.filter_map { |find| Store::Question.new(find: find).page(limit: 1).events.first })
        end
      ensure
        Store::Changes.finish
      end

      def write(one, lines)
        return if lines.empty?

        onset_us = lines.first.time_us
        closed_us = lines.last.time_us + (DAY_US / 8)
        kept = Store::Case.create!(
          title: one.title, status: "closed", cause: one.cause, remedy: one.remedy, effect: one.effect,
          onset_us: onset_us, created_us: onset_us + (DAY_US / 24), changed_us: closed_us, closed_us: closed_us
        )
        lines.each do |line|
          source = Store::Source.find(line.source_id)
          Store::Pin.create!(case_id: kept.id, created_us: closed_us, note: "", **Store::Pin.of_line(line, source))
        end
      end
      private_class_method :write
    end
  end
end
