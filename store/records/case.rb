# frozen_string_literal: true

module Northdrift
  module Store
    # An investigation: what was found out of a trouble.
    class Case < Record
      include Authored

      self.table_name = "cases"

      # Who may not see everything sees those that they, or others of the same sight, opened, and those that a line is
      # pinned to that they see.
      default_scope do
        own = Sight.find and
          where(sight: own).or(where(id: Pin.where.not(kind: "note").where(deleted_us: nil).select(:case_id)))
      end
      before_create { self.sight = Sight.find }

      scope :present, -> { where(deleted_us: nil) }
      # Those that changed last first.
      scope :open_first, -> { order(Arel.sql("status = 'closed'"), changed_us: :desc) }

      # @return [Array<Pin>] in the order in which they truly happened
      def pins = Pin.present.where(case_id: id).order(:at_us, :id)

      # @param text [String] words, all of which a case has in what is written of it or pinned to it
      # @return [ActiveRecord::Relation]
      def self.search(text)
        # No text has a NUL, and SQL must not.
        text.delete("\0").split.reduce(present) do |found, word|
          like = "%#{sanitize_sql_like(word)}%"
          found.where(
            "title LIKE :like ESCAPE '\\' OR cause LIKE :like ESCAPE '\\' OR remedy LIKE :like ESCAPE '\\' OR effect " \
            "LIKE :like ESCAPE '\\' OR note LIKE :like ESCAPE '\\' OR id IN (:pinned)",
            like: like,
            pinned: Pin.present
              .where("content LIKE :like ESCAPE '\\' OR note LIKE :like ESCAPE '\\'", like: like)
              .select(:case_id)
          )
        end
      end

      # @return [Hash{Integer=>Array<Case>}] by pattern: closed ones that it, or a line of it, is pinned to and that say
      #   what helped, the latest first
      def self.remedies
        closed = present.where(status: "closed").where.not(remedy: "").order(closed_us: :desc)
        pinned =
          Pin
            .present
            .where(case_id: closed.map(&:id))
            .where.not(pattern: nil)
            .distinct
            .pluck(:case_id, :pattern)
            .group_by(&:first)
        closed.each_with_object({}) do |one, found|
          pinned
            .fetch(one.id, [])
            .map { |_, name| KnownPatterns.current.now(KnownPatterns.id(name)) }
            .uniq
            .each { |pattern| (found[pattern] ||= []) << one }
        end
      end

      # @param written_us [Integer]
      # @return [Cases::Report]
      def report(written_us)
        Northdrift::Cases::Report.new(
          number: id,
          facts: {
            title: title, status: status, onset_us: onset_us, cause: cause, remedy: remedy, effect: effect, note: note
          }, pins: pins.map(&:pin), written_us: written_us
        )
      end
    end
  end
end
