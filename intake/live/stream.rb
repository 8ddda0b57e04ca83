# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      # Where lines come from: a sender of a listener, a followed file, a command.
      # @!attribute number [Integer] of the stream, as long as the receiving process lives
      # @!attribute feed_id [Integer]
      # @!attribute name [String] as people see it
      # @!attribute machine [String, nil] of lines that name none
      # @!attribute place [String, nil] the same where no person says it: the sender's address, see {Origin}
      # @!attribute zone [String] of stamps that have none
      # @!attribute source_id [Integer, nil] when it is one that is there already
      # @!attribute fingerprint [String] of a file's first bytes
      # @!attribute machines [Integer, nil] that it may name within an hour, see {MachineLimit}
      # @!attribute header [String, nil] the line of a file that names the columns of what comes next
      Stream =
        Struct.new(
          :number, :feed_id, :name, :machine, :place, :zone, :source_id, :fingerprint, :header, :machines,
          keyword_init: true
        )
    end
  end
end
