# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Settings of which one is a secret: in the database that is encrypted.
    module SealedSettings
      # As the secret is kept.
      SEALED = "sealed"

      # @param model [Class] with a column `settings`, and a constant SECRET that names the secret one
      def self.included(model)
        model.scope :present, -> { model.where(deleted_us: nil) }
      end

      # @return [Hash{String=>Object}] what it was set up with, by name; without the secret where that cannot be read
      def given
        kept = Oj.load(settings, mode: :strict)
        kept.key?(SEALED) ? kept.except(SEALED).merge(secret_name => Secret.open(kept[SEALED]).to_s) : kept
      end

      # @param values [Hash{String=>Object}]
      def given=(values)
        secret = values[secret_name].to_s
        kept = secret.empty? ? values : values.except(secret_name).merge(SEALED => Secret.seal(secret))
        self.settings = Oj.dump(kept, mode: :strict)
      end

      # @return [Boolean] whether it has a secret that is encrypted
      def sealed? = Oj.load(settings, mode: :strict).key?(SEALED)

      private

      def secret_name = self.class::SECRET
    end
  end
end
