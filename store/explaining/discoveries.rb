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

      # @param rule [Northdrift::Watch::Rule] on a discovery
      def initialize(rule)
        @discovery = rule.discovery
        @services = rule.by.include?(SERVICE)
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

      # Of services where they are told apart by it, and else of machines.
      def restarts(from_us, to_us)
        told = Restarts.new(from_us: from_us, to_us: to_us).verdicts
          .select { |one| one.service.nil? != @services && @discovery.of.include?(one.reason) }
        told.map do |one|
          at_us = one.start.time_us
          fields = { MACHINE => one.machine, SERVICE => one.service, "reason" => one.reason }.compact
          One.new(at_us, at_us, fields, "Restarted: #{one.says}", Find::Spelling.equal(MACHINE, one.machine))
        end
      end
    end
  end
end
