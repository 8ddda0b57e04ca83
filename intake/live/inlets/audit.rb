# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      module Inlets
        # What people did here as lines, so that it stands beside what machines did. Each entry of the audit trail
        # comes in once: it is a delivery with a name of its own.
        class Audit < Inlet
          LOOK_SECONDS = 1
          MOST = 500
          SETTLE_SECONDS = 5
          # A setting: the last entry that is among the lines.
          TOLD = "audit told"
          # Status of the answer from which on something was refused, or went wrong (RFC 9110, section 15.5).
          REFUSED = 400

          # @param entry [Store::AuditTrail::Entry]
          # @return [String] a line of JSON; names as OpenTelemetry has them, where it has any
          def self.line(entry)
            Oj.dump(
              {
                "time" => Time.at(0, entry.at_us, :microsecond, in: "UTC").strftime("%Y-%m-%dT%H:%M:%S.%6NZ"),
                "level" => entry.outcome >= REFUSED ? "warning" : "info", "service.name" => Store::AuditTrail::SERVICE,
                "message" => entry.told, "user.name" => entry.who, "client.address" => entry.address,
                "action" => entry.action, "target" => entry.target, "outcome" => entry.outcome,
                "changes" => entry.changed.map { |one| Store::Changes.told(one) }.join("; ")
              }.reject { |_, value| value.nil? || value == "" }, mode: :strict
            )
          end

          private

          def run
            @office.problem(@feed, nil)
            hand_on(Store::AuditTrail.after(Store::Setting.get(TOLD).to_i, MOST)) || pause until @stopping
          end

          # @return [Boolean] whether there were any, and they are in the database
          def hand_on(entries)
            return false if entries.empty?

            ticket = Funnel::Ticket.new
            entries.each do |entry|
              @funnel.messages(
                trail, [Audit.line(entry).b],
                delivery: "audit #{entry.id}", ticket: (ticket if entry.equal?(entries.last))
              )
            end
            @funnel.flush
            return false unless ticket.wait(SETTLE_SECONDS) == :written

            Store::Setting.set(TOLD, entries.last.id.to_s)
            true
          end

          # Of no machine: who is limited to some sees none of it, see {Store::SightReach}.
          def trail = @trail ||= @office.stream(@feed, name: @feed.name, machine: nil, zone: "UTC")

          def pause = (LOOK_SECONDS * 10).times { @stopping || sleep(0.1) }
        end
      end
    end
  end
end
