# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # A time in which alerts are raised and not told: those that somebody has muted, and those of planned work.
    class Quiet < Record
      include Authored

      self.table_name = "alert_quiets"

      KINDS = %w[mute maintenance].freeze

      scope :present, -> { where(deleted_us: nil).order(:id) }

      class << self
        # @param alert [Alert]
        # @param at_us [Integer] a moment at which it held
        # @return [Quiet, nil] the first that it is in
        def of(alert, at_us)
          all = present.where("from_us <= ? AND (until_us IS NULL OR until_us > ?)", at_us, at_us)
            .where(rule_id: [nil, alert.rule_id]).to_a
          return if all.empty?

          subject = alert.about.subject
          all.find do |one|
            one.recurs?(at_us) && (one.matcher.nil? || one.matcher.match?(subject)) && one.told?(alert.machine, at_us)
          end
        end
      end

      # @return [Array<String>, nil] kinds of entries of the logbook by which it begins; nil where it holds all along
      def kinds = entries && Oj.load(entries, mode: :strict)

      # @return [Hash{String=>Object}, nil] see {Rules::Hours}; nil where it is quiet at all hours
      def given_hours = hours && Oj.load(hours, mode: :strict)

      # @param at_us [Integer]
      # @return [Boolean] whether that is within its hours, where it has some
      def recurs?(at_us) = hours.nil? || Rules::Hours.new(given_hours).include?(at_us)

      # @param machine [String, nil]
      # @param at_us [Integer]
      # @return [Boolean] whether an entry of the logbook tells it of the machine at that moment, where it is so told
      def told?(machine, at_us)
        return true if entries.nil?
        return false if machine.nil?

        Happenings.of(kinds: kinds, from_us: at_us - lasts_us, to_us: at_us + EventId::MILLISECOND, machines: [machine])
          .any? { |one| one.says.to_s.downcase.include?(says.downcase) }
      end

      # @return [Find::Matcher, nil]
      # @raise [Find::Mistake]
      def matcher = find.strip.empty? ? nil : Find::Matcher.new(Find::Parser.parse(find))

      # Those that stand already are in it, too. Called within a transaction.
      def take_in
        Alert.where(quiet_id: nil).where.not(state: "closed").find_each do |alert|
          at_us = kind == "mute" ? [from_us, alert.last_us].max : alert.raised_us
          alert.update!(quiet_id: id) if Quiet.of(alert, at_us) == self
        end
      end

      # Those that were in it are so no more. Called within a transaction.
      def let_go = Alert.where(quiet_id: id).update_all(quiet_id: nil)
    end
  end
end
