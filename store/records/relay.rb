# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Where lines are sent on to, and how far that is.
    class Relay < Record
      include Authored

      self.table_name = "relays"

      scope :present, -> { where(deleted_us: nil) }

      # As the token is kept.
      SEALED = "sealed"

      # @return [Hash{String=>Object}] what it was set up with, by name; without the token where that cannot be read
      def given
        kept = Oj.load(settings, mode: :strict)
        kept.key?(SEALED) ? kept.except(SEALED).merge("token" => Secret.open(kept[SEALED]).to_s) : kept
      end

      # @param values [Hash{String=>Object}]
      def given=(values)
        token = values["token"].to_s
        kept = token.empty? ? values : values.except("token").merge(SEALED => Secret.seal(token))
        self.settings = Oj.dump(kept, mode: :strict)
      end

      # @return [Boolean] whether it has a token that is encrypted
      def sealed? = Oj.load(settings, mode: :strict).key?(SEALED)

      # Seals the tokens that earlier versions kept as they are.
      def self.seal_all
        find_each { |relay| relay.update!(given: relay.given) unless relay.given["token"].to_s.empty? }
      end

      # @return [String] tells whether anything changed that it runs by
      def state = [id, kind, settings, find, paused, deleted_us].join("\0")

      # @return [Integer] lines that came in and were not looked at yet
      def waiting = RelayQueue.lines_after(position)
    end
  end
end
