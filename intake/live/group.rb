# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      # What came of one stream.
      # @!attribute text [String] bytes
      # @!attribute sizes [Array<Integer>, nil] of the messages that the text is made of; nil when it is cut into lines
      #   and these are joined to records
      # @!attribute place [Place, nil] of a file
      # @!attribute received_us [Integer]
      # @!attribute delivery [String, nil] what its sender calls it, so that it is not taken twice
      Group = Struct.new(:stream, :text, :sizes, :place, :received_us, :delivery, keyword_init: true)
    end
  end
end
