# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # How much may be given at once: as it is sent, and unpacked. A few megabytes can unpack to as many as one likes.
    # @!attribute megabytes [Integer] of one upload
    # @!attribute unpacked_megabytes [Integer] of all that the archives in it have
    UploadLimits = Struct.new(:megabytes, :unpacked_megabytes, keyword_init: true) do
      # @return [UploadLimits] as they were set
      def self.current
        given = Setting.get(UploadLimits::NAME)
        new(**UploadLimits::DEFAULTS, **(given ? Oj.load(given, mode: :strict).transform_keys(&:to_sym) : {}))
      end

      def save = Setting.change(UploadLimits::NAME, Oj.dump(to_h.transform_keys(&:to_s), mode: :strict))

      # @return [Integer]
      def bytes = megabytes * 1_000_000

      # @return [Integer]
      def unpacked_bytes = unpacked_megabytes * 1_000_000
    end

    class UploadLimits
      NAME = "upload limits"
      DEFAULTS = { megabytes: 20_000, unpacked_megabytes: 200_000 }.freeze
    end
  end
end
