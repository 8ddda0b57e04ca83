# frozen_string_literal: true

module Northdrift
  module Store
    # Where lines are sent on to, and how far that is.
    class Relay < Record
      include Authored
      include SealedSettings

      self.table_name = "relays"

      SECRET = "token"

      # Seals the tokens that earlier versions kept as they are.
      def self.seal_all
        find_each { |relay| relay.update!(given: relay.given) unless relay.given[SECRET].to_s.empty? }
      end

      # @return [String] tells whether anything changed that it runs by
      def state = [id, kind, settings, find, paused, deleted_us].join("\0")

      # @return [Integer] lines that came in and were not looked at yet
      def waiting = RelayQueue.lines_after(position)
    end
  end
end
