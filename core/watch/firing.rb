# frozen_string_literal: true

module Northdrift
  module Watch
    # A moment at which the condition of a rule held.
    # @!attribute rule [Rule]
    # @!attribute key [Array<String>] values of the fields that it is told apart by
    # @!attribute from_us [Integer] the first line that it held for
    # @!attribute at_us [Integer] the line by which it held, the last of them
    # @!attribute critical [Boolean, nil] whether it was beyond the critical level, where there is one
    Firing = Struct.new(:rule, :key, :from_us, :at_us, :critical)
  end
end
