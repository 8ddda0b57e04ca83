# frozen_string_literal: true

module Northdrift
  module Store
    # A browser on which a person is logged in. Its id is a digest of what the browser has, so that who reads the
    # database cannot pass for anybody.
    class Session < Record
      self.table_name = "sessions"

      HOUR_US = 3_600_000_000
      # That it is in use is noted so often at most.
      NOTED_US = 60_000_000

      belongs_to :person

      # @return [ActiveRecord::Relation] those that have not ended by themselves
      def self.live(now_us = Clock.now_us)
        where("seen_us > ? AND created_us > ?", *limits(now_us))
      end

      # @return [Array(Integer, Integer)] when one must have been used last, and begun
      def self.limits(now_us)
        settings = PageSettings.current
        [now_us - (settings.idle_hours * HOUR_US), now_us - (settings.login_days * 24 * HOUR_US)]
      end

      # @return [Session, nil] nil when it has ended, or its person may not log in any more
      def self.of(id)
        # Each request asks: by its number alone, what is asked is prepared once.
        session = find_by(id: id)
        session if session&.live? && session.person && session.person.disabled_us.nil?
      end

      # @return [Boolean] whether it has not ended by itself
      def live?(now_us = Clock.now_us)
        used, begun = self.class.limits(now_us)
        seen_us > used && created_us > begun
      end

      # Says that it is in use.
      def note(now_us = Clock.now_us)
        update_columns(seen_us: now_us) if now_us - seen_us > NOTED_US
      end
    end
  end
end
