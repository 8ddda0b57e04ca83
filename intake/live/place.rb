# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      # How far a file is in events with this group.
      # @!attribute from [Integer] offset of the group's first byte
      # @!attribute to [Integer]
      # @!attribute digest [String] SHA-256 of the file's bytes up to there
      # @!attribute fingerprint [String] see {Known.fingerprint}
      # @!attribute identity [String] see {FollowedFile.identity}
      Place = Struct.new(:from, :to, :digest, :fingerprint, :identity)
    end
  end
end
