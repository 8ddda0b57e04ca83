# frozen_string_literal: true

require "digest"
require "securerandom"

module Northdrift
  module People
    # What somebody logs in with once whose telephone is gone. Of 60 bits: a plain digest keeps them.
    module RecoveryCode
      COUNT = 10
      # Without what looks alike when it is written by hand.
      LETTERS = [*"a".."z", *"2".."9"].-(%w[l o]).freeze
      PARTS = [4, 4, 4].freeze

      module_function

      # @return [Array<String>] such as "k7mw-9xqp-4tab"
      def make
        Array.new(COUNT) do
          PARTS.map do |size|
            Array.new(size) do
              LETTERS.sample(random: SecureRandom)
            end.join
          end.join("-")
        end
      end

      # @param code [String] as it was typed: small or large letters, with or without what stands between
      # @return [String] what is kept of it
      def digest(code) = Digest::SHA256.hexdigest(code.downcase.delete("^a-z0-9"))
    end
  end
end
