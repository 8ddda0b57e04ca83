# frozen_string_literal: true

module Northdrift
  module Store
    # A browser on which a person is logged in. Its id is a digest of what the browser has, so that who reads the
    # database cannot pass for anybody.
    class Session < Record
      self.table_name = "sessions"

      HOUR_US = 3_600_000_000
      # Who does nothing for so long is logged out.
      IDLE_US = 12 * HOUR_US
      # And everybody after so long.
      LONGEST_US = 7 * 24 * HOUR_US
      # That it is in use is noted so often at most.
      NOTED_US = 60_000_000

      belongs_to :person

      # @return [ActiveRecord::Relation] those that have not ended by themselves
      def self.live(now_us = Clock.now_us)
        where("seen_us > ? AND created_us > ?", now_us - IDLE_US, now_us - LONGEST_US)
      end

      # @return [Session, nil] nil when it has ended, or its person may not log in any more
      def self.of(id)
        # Each request asks: by its number alone, what is asked is prepared once.
        session = find_by(id: id)
        session if session&.live? && session.person && session.person.disabled_us.nil?
      end

      # @return [Boolean] whether it has not ended by itself
      def live?(now_us = Clock.now_us) = seen_us > now_us - IDLE_US && created_us > now_us - LONGEST_US

      # Says that it is in use.
      def note(now_us = Clock.now_us)
        update_columns(seen_us: now_us) if now_us - seen_us > NOTED_US
      end
    end
  end
end
