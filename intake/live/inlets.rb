# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      # The ways in: which class takes lines in for which kind of feed. Adding one is adding a file and a row.
      module Inlets
        KINDS = {
          "udp" => Udp, "tcp" => Tcp, "tls" => Tls, "http" => Http, "follow" => Follow, "command" => Command
        }.freeze

        # Feeds that every data folder starts with; they listen on this machine alone until someone says otherwise.
        FIRST = [
          ["syslog over UDP", "udp", { "address" => "127.0.0.1", "port" => 5514 }],
          ["syslog over TCP", "tcp", { "address" => "127.0.0.1", "port" => 5514 }],
          ["syslog over TLS", "tls", { "address" => "127.0.0.1", "port" => 6514 }]
        ].freeze

        # Makes the first feeds where there never were any.
        def self.set_up
          return if Store::Feed.exists?

          now_us = Store::Clock.now_us
          Store::Changes.by_itself do
            FIRST.each do |name, kind, given|
              Store::Feed.create!(name: name, kind: kind, given: given, created_us: now_us)
            end
          end
        end
      end
    end
  end
end
