# frozen_string_literal: true

module Northdrift
  module Sending
    # What is told of alerts, whichever way it goes: what, where, since when, how bad, the lines, the likeliest cause,
    # what cured it last time, and where to look.
    # @!attribute id [String] the same whenever it is tried again
    # @!attribute occasion [String] "raised", "left" (nobody has taken it), "back" or "test"
    # @!attribute alerts [Array<Hash{String=>Object}>] see docs/alert-message.schema.json
    # @!attribute more [Integer] alerts that it is about and that are not in it
    # @!attribute link [String] where all alerts are
    Message = Struct.new(:id, :occasion, :alerts, :more, :link, keyword_init: true)

    class Message
      # Of the same form as docs/alert-message.schema.json.
      # @return [Hash{String=>Object}]
      def to_h
        { "id" => id, "occasion" => occasion, "alerts" => alerts, "more" => alerts.size - 1 + more,
          "more_not_shown" => more, "link" => link }
      end
    end
  end
end
