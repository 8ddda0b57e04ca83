# frozen_string_literal: true

module Northdrift
  module Standins
    # The demo's incidents, played as if they began now: whatever they write at a moment of their own day comes so much
    # after the start.
    class Replay < Demo::World
      # @!attribute method [Symbol] of {Demo::Incidents}
      # @!attribute ago [Integer] its day
      # @!attribute clock [String] when it began
      # @!attribute says [String] what happens, for people
      Incident = Struct.new(:method, :ago, :clock, :says)

      INCIDENTS = {
        "ticket-hall-stall" =>
          Incident.new(
            :ticket_hall_stall, 1, "06:09:41",
            "an MTU is changed on sw-core-1, bookings time out, bookingd is killed for memory (11 min)"
          ),
        "radio-fade" => Incident.new(:radio_fade, 8, "15:04:14", "rain on the Brennsund link: it goes and comes (2 h)"),
        "guessing" =>
          Incident.new(
            :guessing_at_the_bastion, 2, "02:47:03",
            "failed passwords for kiosk on bastion-1, then a success and a new account (90 s)"
          ),
        "printer" =>
          Incident.new(
            :printer_that_went_quiet, 2, "09:12:40", "print-01's spooler ends unexpectedly, three times (46 min)"
          ),
        "memory-fault" =>
          Incident.new(:memory_fault, 5, "14:22:07", "a memory fault of hv-2 stops mail-1 and tix-db-2 (1 min)"),
        "kernel-panic" => Incident.new(:kernel_panic, 4, "11:05:32.7", "gate-tar-1 panics and starts again (1 min)"),
        "power-loss" => Incident.new(:power_loss, 3, "16:40:12", "hall-kiosk-3 loses power (10 s)"),
        "certificate" =>
          Incident.new(
            :certificate_that_runs_out, 4, "00:00:09",
            "gate-auk-1 finds the booking service's certificate expired (7.5 h)"
          ),
        "chatty-firmware" =>
          Incident.new(
            :chatty_firmware, 2, "13:05:02.1", "a new firmware of gate-tar-1 writes a hundred times as many lines (5 h)"
          ),
        "mail-disk" =>
          Incident.new(:mail_that_fills_its_disk, 1, "15:38:40", "mail-1 cannot queue: its disk is full (2 h)"),
        "restart-from-inside" =>
          Incident.new(:restart_from_inside, 7, "02:14:09", "tix-db-1 is restarted from inside the guest (1 min)")
      }.freeze

      # @param name [String] of an incident
      # @param start [Time]
      # @return [Array<Array(Time, String, String)>] time, path and line, in order
      def self.lines(name, start:)
        incident = INCIDENTS[name] or
          raise Error, "there is no incident “#{Text.display(name)}”; there are #{INCIDENTS.keys.join(', ')}"
        new(incident, start).lines
      end

      def initialize(incident, start)
        super(now: start + (10 * DAY))
        @incident = incident
        @start = start
        @began = Demo::World.instance_method(:at).bind_call(self, incident.ago, incident.clock)
      end

      def at(ago, clock) = @start + (super - @began)

      # What foretold it days before is left out.
      # @return [Array<Array(Time, String, String)>]
      def lines
        Demo::Incidents.new(self).send(@incident.method)
        @lines
          .flat_map { |path, lines| lines.map { |time, _, line| [time, path, line] } }
          .select { |time,| time >= @start }
          .sort_by(&:first)
      end
    end
  end
end
