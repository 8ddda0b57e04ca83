# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      # The ways in: which class takes lines in for which kind of feed. Adding one is adding a file and a row.
      module Inlets
        KINDS = {
          "udp" => Udp, "snmp" => Snmp, "tcp" => Tcp, "tls" => Tls, "http" => Http, "follow" => Follow,
          "command" => Command, "audit" => Audit
        }.freeze

        # Feeds that every data folder starts with; they listen on this machine alone until someone says otherwise.
        FIRST = [
          ["syslog over UDP", "udp", { "address" => "127.0.0.1", "port" => 5514 }],
          ["syslog over TCP", "tcp", { "address" => "127.0.0.1", "port" => 5514 }],
          ["syslog over TLS", "tls", { "address" => "127.0.0.1", "port" => 6514 }]
        ].freeze

        # What people did, where there are any.
        AUDIT = ["Audit trail", "audit", {}].freeze

        # Makes the first feeds where there never were any.
        def self.set_up
          make(FIRST) unless Store::Feed.where.not(kind: "audit").exists?
          make([AUDIT]) if Store::Person.exists? && !Store::Feed.exists?(kind: "audit")
        end

        def self.make(feeds)
          Store::Changes.by_itself do
            feeds.each do |name, kind, given|
              Store::Feed.create!(name: name, kind: kind, given: given, created_us: Store::Clock.now_us)
            end
          end
        end
        private_class_method :make
      end
    end
  end
end
