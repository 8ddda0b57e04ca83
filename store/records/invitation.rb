# frozen_string_literal: true

require "digest"
require "securerandom"

module Northdrift
  module Store
    # A link that lets a person choose a password, once. Its id is a digest of what stands in the link.
    class Invitation < Record
      self.table_name = "invitations"

      LASTS_US = 3 * 24 * 3_600_000_000

      belongs_to :person

      # @param person [Person]
      # @return [String] what the link has; an earlier one does not hold any more
      def self.make(person)
        where(person_id: person.id).delete_all
        secret = SecureRandom.urlsafe_base64(32)
        create!(id: digest(secret), person_id: person.id, expires_us: Clock.now_us + LASTS_US)
        secret
      end

      # @return [Invitation, nil]
      def self.of(secret)
        found = includes(:person).where("expires_us > ?", Clock.now_us).find_by(id: digest(secret))
        found if found&.person && found.person.disabled_us.nil?
      end

      def self.digest(secret) = Digest::SHA256.hexdigest(secret)
      private_class_method :digest
    end
  end
end
