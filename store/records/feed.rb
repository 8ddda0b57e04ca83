# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Where lines come in by themselves: a listener, a followed path, a command.
    class Feed < Record
      include Authored

      self.table_name = "feeds"

      scope :present, -> { where(deleted_us: nil) }

      # @return [Hash{String=>Object}] what it was set up with, by name
      def given = Oj.load(settings, mode: :strict)

      # What is no setting of a person: a token's digest, and the folders that a followed path may not leave.
      INNER = %w[token within].freeze

      # @return [Hash{String=>Object}] what a person has set
      def shown = given.except(*INNER)

      # @param values [Hash{String=>Object}]
      def given=(values)
        self.settings = Oj.dump(values, mode: :strict)
      end

      # @return [String] tells whether anything changed that it runs by
      def state = [id, kind, settings, paused, deleted_us].join("\0")
    end
  end
end
