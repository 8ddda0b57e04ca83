# frozen_string_literal: true

require "uri"

module Northdrift
  module Server
    module Sending
      # What a route is set up with, by the way it goes, and whether that will do.
      module Form
        Unfit = Relay::Checks::Unfit
        CHECKS = Relay::Checks
        MOST_ADDRESSES = 50
        TRANSPORTS = { "udp" => 514, "tcp" => 514, "tls" => 6514 }.freeze
        # SNMP notifications, RFC 3417, section 3.
        TRAP_PORT = 162
        PROGRAM = /\A\w[\w.-]{0,99}\z/

        # By kind: each setting, and what makes it fit from its text and the other values.
        KINDS = {
          "mail" => { "to" => ->(_, values) { addresses(values["to"]) } },
          "hook" => {
            "url" => ->(text, _) { CHECKS.url(text) }, "secret" => ->(text, _) { CHECKS.token(text, "secret") },
            "certificate" => ->(text, _) { CHECKS.certificate(text) }
          },
          "syslog" => {
            "transport" => ->(text, _) { transport(text) }, "host" => ->(text, _) { CHECKS.host(text) },
            "port" => ->(text, values) { CHECKS.port(text, TRANSPORTS.fetch(transport(values["transport"].to_s))) },
            "certificate" => ->(text, _) { CHECKS.certificate(text) }
          },
          "trap" => {
            "host" => ->(text, _) { CHECKS.host(text) }, "port" => ->(text, _) { CHECKS.port(text, TRAP_PORT) },
            "secret" => ->(text, _) { CHECKS.token(text.empty? ? "public" : text, "secret") }
          },
          "program" => { "program" => ->(text, _) { Outlets::Program.path(text) && text } }
        }.freeze

        module_function

        # @param kind [String]
        # @param values [Hash{String=>Object}]
        # @return [Hash{String=>Object}]
        # @raise [Unfit]
        def check(kind, values)
          checks = KINDS[kind] or raise Unfit.new("kind", "there are these kinds: #{KINDS.keys.join(', ')}")
          given = checks.to_h { |name, check| [name, check.call(values[name].to_s.strip, values)] }
          CHECKS.reachable("url", URI(given["url"]).hostname) if given.key?("url")
          CHECKS.reachable("host", given["host"]) if given.key?("host")
          given
        end

        def addresses(given)
          list = given.is_a?(Array) ? given.map(&:to_s) : given.to_s.split(/[,;\n]+/)
          list = list.flat_map { |one| one.include?("@") ? one.split : one.strip }.reject(&:empty?).uniq
          list.each { |one| check_recipient(one) }
          return list if list.size.between?(1, MOST_ADDRESSES)

          raise Unfit.new("to", "say to whom, up to #{MOST_ADDRESSES} mail addresses, people or teams")
        end

        # @raise [Unfit]
        def check_recipient(name)
          return if Store::Person::ADDRESS.match?(name)

          raise Unfit.new("to", "“#{Text.display(name)}” is no mail address") if name.include?("@")

          people = Store::AlertRoute.people_of(name)
          raise Unfit.new("to", "“#{Text.display(name)}” is no mail address, person or team") unless people
          return if people.any?(&:mail)

          raise Unfit.new("to", "nobody of “#{Text.display(name)}” has a mail address yet: see People")
        end

        def transport(text)
          return "udp" if text.empty?

          TRANSPORTS.key?(text) ? text : raise(Unfit.new("transport", "there are #{TRANSPORTS.keys.join(', ')}"))
        end
      end
    end
  end
end
