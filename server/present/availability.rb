# frozen_string_literal: true

module Northdrift
  module Server
    module Present
      # How long machines were up, down and silent, by what they have in common.
      module Availability
        GROUPS = %w[site role tag machine].freeze

        module_function

        # @param uptime [Store::Uptime]
        # @param by [String] one of {GROUPS}
        # @param most [Integer] groups that are told
        # @param only [Array<String>, nil] machines; nil: all
        def page(uptime, by, most:, only: nil)
          machines = only ? uptime.machines & only : uptime.machines
          groups = groups(machines, by)
          alerts = Store::MachineAlerts.new
          {
            "from_us" => uptime.from_us, "to_us" => uptime.to_us,
            "groups" => groups.first(most).map do |name, own|
              group(name, own, uptime.availability).merge("alerts" => alerts_of(own, alerts))
            end,
            "others" => [groups.size - most, 0].max
          }
        end

        def groups(machines, by)
          fleet = Store::Fleet.current
          pairs = machines.flat_map do |name|
            entry = fleet.entry(name)
            {
              "site" => [entry.site], "role" => [entry.role], "tag" => entry.tags.empty? ? [nil] : entry.tags,
              "machine" => [name]
            }.fetch(by).map { |group| [group, name] }
          end
          pairs
            .group_by(&:first)
            .transform_values { |own| own.map(&:last) }
            .sort_by { |name, _| [name.nil? ? 1 : 0, name.to_s] }
        end
        private_class_method :groups

        def alerts_of(machines, alerts)
          Fleet.alerts(machines.flat_map { |machine| alerts.of(machine) }.sort_by(&:severity))
        end
        private_class_method :alerts_of

        def group(name, machines, availability)
          days =
            availability.days(machines).map do |day|
              {
                "day_us" => day.day_us, "known_us" => day.known_us, "up_us" => day.up_us, "down_us" => day.down_us,
                "silent_us" => day.silent_us
              }
            end
          stretches = machines.flat_map { |machine| availability.stretches(machine).map { |one| stretch(one) } }
          {
            "name" => name, "machines" => machines, "days" => days,
            "stretches" => stretches.sort_by { |one| one["from_us"] }
          }
        end
        private_class_method :group

        def stretch(one)
          cause =
            if one.state == :down
              { "says" => one.cause.says, "happening" => one.cause.start.id.to_s }
            else
              { "says" => "said nothing", "happening" => nil }
            end
          { "machine" => one.machine, "state" => one.state.to_s, "from_us" => one.from_us, "to_us" => one.to_us }.merge(
            cause
          )
        end
        private_class_method :stretch
      end
    end
  end
end
