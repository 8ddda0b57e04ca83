# frozen_string_literal: true

require "ipaddr"
require "securerandom"

module Northdrift
  module Intake
    module Live
      # What a person sets a feed up with: which settings each kind has, and whether they will do.
      module FeedForm
        # A setting will not do.
        class Unfit < Error
          attr_reader :setting

          def initialize(setting, message)
            super(message)
            @setting = setting
          end
        end

        ADDRESS = "127.0.0.1"
        LISTENER = {
          "address" => :address, "port" => :port, "zone" => :zone, "machine" => :machine, "machines" => :machines
        }.freeze
        SYSLOG = LISTENER.merge("limit" => :limit).freeze
        KINDS = {
          "udp" => SYSLOG, "tcp" => SYSLOG, "tls" => SYSLOG, "http" => LISTENER, "snmp" => SYSLOG.except("zone"),
          "follow" => { "paths" => :paths, "zone" => :zone, "machine" => :machine }.freeze,
          "command" => { "command" => :command, "zone" => :zone, "machine" => :machine }.freeze, "audit" => {}.freeze
        }.freeze
        # What people add; the others are there by themselves.
        ADDED = (KINDS.keys - ["audit"]).freeze
        PORTS = { "udp" => 5514, "tcp" => 5514, "tls" => 6514, "http" => 4318, "snmp" => 1162 }.freeze
        # Stands for the machine's name where it is part of a followed path: what the first * of the path stands for.
        FROM_PATH = "*"
        MACHINE = /\A[\w.:-]{0,255}\z/

        module_function

        # As {check}, of a feed that is to be added.
        # @raise [Unfit]
        def check_new(kind, values)
          return check(kind, values) if ADDED.include?(kind)

          raise Unfit.new("kind", "there are these kinds: #{ADDED.join(', ')}")
        end

        # @param kind [String]
        # @param values [Hash{String=>Object}] as they were given; what is missing has its default
        # @return [Hash{String=>Object}] settings
        # @raise [Unfit]
        def check(kind, values)
          checks = KINDS.fetch(kind)
          unknown = values.keys - checks.keys
          if unknown.any?
            raise Unfit.new(unknown.first, "a source of kind #{kind} has no setting “#{Text.display(unknown.first)}”")
          end

          checks.to_h { |name, check| [name, send(check, kind, values[name])] }
        end

        # @return [String] a token for a sender
        def token = SecureRandom.alphanumeric(40)

        def address(_, value)
          value = value.to_s.strip
          value.empty? ? ADDRESS : IPAddr.new(value).to_s
        rescue IPAddr::Error
          raise Unfit.new(
            "address",
            "“#{Text.display(value)}” is no address of this computer; 127.0.0.1 listens to itself alone, " \
            "0.0.0.0 to all networks"
          )
        end
        private_class_method :address

        def port(kind, value)
          return PORTS.fetch(kind) if value.to_s.empty?

          number = Integer(value.to_s, exception: false)
          number&.between?(1, 65_535) ? number : raise(Unfit.new("port", "a port is a number from 1 to 65535"))
        end
        private_class_method :port

        # Lines a second that one sender may send; empty for as many as it will.
        def limit(_, value) = whole("limit", value, 1_000_000, "a limit is a whole number of lines a second")
        private_class_method :limit

        # Machines that one sender may name within an hour; empty for as many as {MachineLimit} has.
        def machines(_, value) = whole("machines", value, 1_000_000, "machines within an hour are a whole number")
        private_class_method :machines

        def whole(setting, value, most, message)
          return if value.to_s.strip.empty?

          number = Integer(value.to_s, exception: false)
          raise(Unfit.new(setting, "#{message}, from 1 to #{most}")) unless number&.between?(1, most)

          number
        end
        private_class_method :whole

        def zone(_, value)
          value = value.to_s.empty? ? "UTC" : value.to_s
          TZInfo::Timezone.get(value)
          value
        rescue TZInfo::InvalidTimezoneIdentifier
          raise Unfit.new(
            "zone", "there is no time zone “#{Text.display(value)}”; zones have names like Europe/Oslo or UTC"
          )
        end
        private_class_method :zone

        def machine(kind, value)
          value = value.to_s.strip
          return value if MACHINE.match?(value) || (value == FROM_PATH && kind == "follow")

          raise(Unfit.new("machine", "a machine's name has letters, digits, dots, dashes and colons"))
        end
        private_class_method :machine

        def paths(_, value)
          paths = value.to_s.split("\n").map(&:strip).reject(&:empty?)
          raise Unfit.new("paths", "say at least one path, such as /var/log/*.log") if paths.empty?

          relative = paths.find { |path| !path.start_with?("/") }
          relative ? raise(Unfit.new("paths", "“#{Text.display(relative)}” must start with /")) : paths.join("\n")
        end
        private_class_method :paths

        def command(_, value)
          value.to_s.strip.empty? ? raise(Unfit.new("command", "say a command")) : value.to_s.strip
        end
        private_class_method :command
      end
    end
  end
end
