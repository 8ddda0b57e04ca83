# frozen_string_literal: true

module Northdrift
  module Server
    module Sending
      # The ways that a message may go.
      module Outlets
        KINDS = {
          "mail" => :Mail, "hook" => :Hook, "syslog" => :Syslog, "trap" => :Trap, "program" => :Program
        }.freeze

        module_function

        # @param kind [String]
        # @param given [Hash{String=>Object}]
        # @return [#send_off]
        def of(kind, given) = const_get(KINDS.fetch(kind)).new(given)

        # @return [Integer] how long is waited for further alerts, so that they are told together; 0 where each is told
        #   by itself
        def gather_us(kind) = const_get(KINDS.fetch(kind)).gather_us
      end
    end
  end
end
