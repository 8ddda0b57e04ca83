# frozen_string_literal: true

module Northdrift
  module Server
    # What an open page can be told of. Each has `news`, which gives server-sent events of what has come since the last
    # time, or nothing.
    module Topics
      module_function

      # @param name [String] of the event
      # @param data [Hash]
      # @return [String]
      def event(name, data) = "event: #{name}\ndata: #{Oj.dump(data, mode: :strict)}\n\n"
    end
  end
end
