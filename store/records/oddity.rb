# frozen_string_literal: true

module Northdrift
  module Store
    # Something unusual that was noticed without a rule for it: a pattern or a value that was never there, more or less
    # of a pattern, a service or a machine than there is usually. See {Northdrift::Unusual}.
    class Oddity < Record
      self.table_name = "oddities"

      STATES = %w[open muted normal].freeze
      # Hours that are apart by less are one.
      TOGETHER_US = 2 * Rollup::HOUR

      class << self
        # Writes down what was found: of one that goes on, or a new one. Called within a transaction.
        # @param kind [String] key of {Northdrift::Unusual::Priority::MOST_SURPRISE}
        # @param subject [String]
        # @param now_us [Integer]
        # @return [Oddity]
        def note(kind, subject, now_us, **found)
          before = where(kind: kind, subject: subject).order(:last_us).last
          return go_on(before, now_us, **found) if before && same?(before, found)

          create!(kind: kind, subject: subject, created_us: now_us, changed_us: now_us, **found,
                  **carried(before, found))
        end

        # What was noticed so long ago is taken as normal. Called within a transaction.
        # @param now_us [Integer]
        def settle(now_us)
          days = PageSettings.current.normal_days
          where(state: "open").where("from_us < ?", now_us - (days * Question::DAY_US))
            .update_all(state: "normal", why: "taken as normal after #{days} days", changed_us: now_us)
        end

        # Those of a time that goes are forgotten with its lines.
        # @param before_us [Integer]
        def forget(before_us) = where("last_us < ?", before_us).delete_all

        private

        # What is new is new once.
        def same?(before, found)
          %w[pattern value].include?(before.kind) || found[:from_us] <= before.last_us + TOGETHER_US
        end

        def go_on(before, now_us, **found)
          before.assign_attributes(
            found.merge(
              from_us: [before.from_us, found[:from_us]].min, last_us: [before.last_us, found[:last_us]].max,
              severity: [before.severity, found[:severity]].min, priority: [before.priority, found[:priority]].max
            )
          )
          before.changed_us = now_us if before.changed?
          before.save!
          before
        end

        # What somebody said of it before holds on.
        def carried(before, found)
          return {} unless before&.holds?(found[:from_us])

          before.attributes.symbolize_keys.slice(:state, :until_us, :why, :changed_by)
        end
      end

      # @param at_us [Integer]
      # @return [Boolean] whether what was said of it still holds then
      def holds?(at_us)
        case state
        when "muted" then until_us.nil? || until_us > at_us
        when "normal" then at_us < changed_us + (PageSettings.current.normal_days * Question::DAY_US)
        else false
        end
      end

      # @return [String] in plain words
      def says
        who = [service, machine].compact.join(" on ")
        said = case kind
        when "pattern" then "A pattern that was never there"
        when "value" then "#{field} was never “#{value}” before"
        else "#{kind == 'more' ? 'More' : 'Fewer'} lines#{' of a pattern' if pattern_id} than usual: #{lines}, where " \
             "about #{expected.round(expected < 10 ? 1 : 0)} are usual"
        end
        who.empty? ? said : "#{said}: #{who}"
      end

      # @return [String] a find text for its lines
      def find
        return "pattern = P#{pattern_id}" if pattern_id

        { "host.name" => machine, "service.name" => service, field => value }.compact
          .map { |name, one| Northdrift::Find::Spelling.equal(name, one) }.join(" ")
      end
    end
  end
end
