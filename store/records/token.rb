# frozen_string_literal: true

require "digest"
require "securerandom"

module Northdrift
  module Store
    # What a program asks with, in the place of a person who logs in (RFC 6750). The database has a digest alone.
    class Token < Record
      self.table_name = "tokens"

      # Tells what it is where it was left lying about.
      PREFIX = "northdrift_"
      DAY_US = 86_400_000_000
      DAYS = 1..366
      MOST_NAME = 80
      # That it is in use is noted so often at most.
      NOTED_US = 60_000_000

      Unfit = Class.new(Error)

      class << self
        # @param name [String] what it is for
        # @param role [String] see {People::Role}
        # @param sight [String] what it lets one see, see {Sight}; everything where it is empty
        # @param days [Integer] that it holds
        # @param by [String, nil] who made it
        # @return [Array(Token, String)] it, and what is sent
        # @raise [Unfit, Sight::Unfit]
        def make(name, role:, days:, sight: "", by: nil)
          name = name.strip
          unless name.match?(/\A[^[:cntrl:]]{1,#{MOST_NAME}}\z/o)
            raise Unfit, "a token needs a name, of #{MOST_NAME} characters at most"
          end
          raise Unfit, "a token holds #{DAYS.begin} to #{DAYS.end} days" unless DAYS.cover?(days)

          secret = "#{PREFIX}#{SecureRandom.urlsafe_base64(32)}"
          now = Clock.now_us
          token = create!(
            name: name, digest: digest(secret), role: Person.role(role), sight: Sight.of_role(sight, role),
            made_by: by, created_us: now, expires_us: now + (days * DAY_US)
          )
          [token, secret]
        end

        # @param secret [String] what was sent
        # @return [Token, nil]
        def of(secret) = find_by("digest = ? AND expires_us > ?", digest(secret), Clock.now_us)

        private

        def digest(secret) = Digest::SHA256.hexdigest(secret)
      end

      # Says that it is in use.
      def note(now_us = Clock.now_us)
        update_columns(used_us: now_us) if used_us.nil? || now_us - used_us > NOTED_US
      end

      # @return [Boolean] whether it held once, and does not any more
      def expired? = expires_us <= Clock.now_us
    end
  end
end
