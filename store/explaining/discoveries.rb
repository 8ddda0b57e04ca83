# frozen_string_literal: true

module Northdrift
  module Store
    # What was found out within a time of what a rule waits for, see {Northdrift::Watch::Discovery}.
    class Discoveries
      MACHINE = "host.name"
      SERVICE = "service.name"
      # Of restarts, in words.
      REASONS = Logbook::Verdicts::RULES.fetch("reasons")
        .merge(Logbook::Verdicts::UNKNOWN => "nothing that is known").freeze
      FINDERS = { "unusual" => :oddities, "restart" => :restarts }.freeze

      # @!attribute time_us [Integer] when it began, and until when it lasted
      # @!attribute fields [Hash{String=>String}] that it is told apart by
      # @!attribute find [String] find text of its lines
      One = Struct.new(:time_us, :until_us, :fields, :says, :find)

      # @param discovery [Northdrift::Watch::Discovery]
      def initialize(discovery)
        @discovery = discovery
      end

      # @return [Array<One>] that lasted within the time
      def within(from_us, to_us) = send(FINDERS.fetch(@discovery.kind), from_us, to_us)

      private

      # What somebody has muted, or called normal, raises nothing.
      def oddities(from_us, to_us)
        Oddity.where(state: "open", kind: @discovery.of).where("priority >= ?", @discovery.priority)
          .where("last_us >= ? AND from_us < ?", from_us, to_us).order(:from_us, :id).map do |one|
          fields = {
            MACHINE => one.machine || OddityCourse.new(one).machines.first, SERVICE => one.service,
            "unusual" => one.kind, "pattern" => one.pattern_id && "P#{one.pattern_id}", "field" => one.field
          }
          One.new(one.from_us, one.last_us, fields.compact, one.says, one.find)
        end
      end

      # Of machines: that a service failed is told by entries of the logbook.
      def restarts(from_us, to_us)
        told = Restarts.new(from_us: from_us, to_us: to_us).verdicts
          .select { |one| one.service.nil? && @discovery.of.include?(one.reason) }
        told.map do |one|
          at_us = one.start.time_us
          One.new(at_us, at_us, { MACHINE => one.machine, "reason" => one.reason }, "Restarted: #{one.says}",
                  Restarts.equal(MACHINE, one.machine))
        end
      end
    end
  end
end
