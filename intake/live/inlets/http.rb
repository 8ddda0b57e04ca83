# frozen_string_literal: true

require "openssl"

module Northdrift
  module Intake
    module Live
      module Inlets
        # Lines by HTTP, for the holder of a token. All such feeds of one address share a server.
        class Http < Inlet
          # @param token [String] as the sender has it
          # @return [String] what is kept of it
          def self.digest(token) = OpenSSL::Digest::SHA256.hexdigest(token)

          # @return [Store::Feed]
          attr_reader :feed
          # @return [Funnel]
          attr_reader :funnel

          # Takes whole messages, and waits until they are in the database.
          # @param sender [String] address
          # @param delivery [String, nil] its name: under way already, it is not taken twice
          # @yieldparam stream [Stream]
          # @yieldparam ticket [Funnel::Ticket]
          # @return [Object, nil] what came of it; nil when that takes longer than a client waits
          # @raise [Funnel::Full]
          def take(sender, delivery, seconds:)
            stream = stream(sender)
            @funnel.once(delivery) { |ticket| yield stream, ticket }.wait(seconds)
          end

          # @param what [Symbol]
          def count(what) = @office.count(@feed, what)

          private

          def run
            server = @office.http_server(@given["address"], @given["port"])
            server.admit(@given["token"], self)
            @office.problem(@feed, nil)
            sleep 0.1 until @stopping
          ensure
            server&.dismiss(@given["token"])
          end

          def close = nil
        end
      end
    end
  end
end
