# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Where lines are sent on to, and how far that is.
    class Relay < Record
      self.table_name = "relays"

      scope :present, -> { where(deleted_us: nil) }

      # @return [Hash{String=>Object}] what it was set up with, by name
      def given = Oj.load(settings, mode: :strict)

      # @param values [Hash{String=>Object}]
      def given=(values)
        self.settings = Oj.dump(values, mode: :strict)
      end

      # @return [String] tells whether anything changed that it runs by
      def state = [id, kind, settings, find, paused, deleted_us].join("\0")

      # @return [Integer] lines that came in and were not looked at yet
      def waiting = RelayQueue.lines_after(position)
    end
  end
end
