# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # What a request or a command has changed, as it was before and is after, for the audit trail.
    module Changes
      KEY = :northdrift_changes
      BY = :northdrift_author
      # What people set; other tables are the program's own.
      TABLES = %w[
        people teams invitations tokens feeds relays parsers noise_rules logbook_rules cases pins scopes searches
        alert_rules alert_routes alert_quiets alerts archives machine_names oddities boards board_versions handovers
      ].freeze
      # What nobody learns, and what says nothing.
      HIDDEN = %w[password_digest digest token sealed key factor_sealed factor_step recovery made_by changed_by].freeze
      # One change of many lines says that there are more.
      MOST = 100

      module_function

      # @return [Array<Hash>] changes that were made within the block
      def collect
        start
        yield
        finish
      ensure
        finish
      end

      # @param by [String, nil] name of who changes something
      def start(by = nil)
        Thread.current[BY] = by
        Thread.current[KEY] = []
      end

      # What the program does by itself is nobody's.
      def by_itself
        before = by
        Thread.current[BY] = nil
        yield
      ensure
        Thread.current[BY] = before
      end

      # @return [String, nil] name of who changes something now
      def by = Thread.current[BY]

      # @param change [Hash] see {finish}
      # @return [String] what it is now and was before, without moments
      def told(change)
        before, after = change.values_at("before", "after").map { |values| values || {} }
        values = (before.keys | after.keys).filter_map do |name|
          next if name == "id" || name.end_with?("_us") || before[name] == after[name]

          "#{name} #{[before[name], after[name]].compact.join(' → ')}"
        end
        "#{change['what']} #{change['id']}: #{change['after'] ? values.join(', ') : 'removed'}"
      end

      # @return [Array<Hash>] "what", "id", "before", "after"
      def finish = (Thread.current[KEY] || []).tap { Thread.current[KEY] = Thread.current[BY] = nil }

      # @param what [String] table, or name of a setting
      # @param before [Hash{String=>Object}, nil] nil for what is new
      # @param after [Hash{String=>Object}, nil] nil for what is gone
      def note(what, id, before, after)
        changes = Thread.current[KEY]
        return if changes.nil? || changes.size >= MOST

        before, after = [before, after].map { |values| values && shown(values) }
        changes << { "what" => what, "id" => id, "before" => before, "after" => after } unless before == after
      end

      def shown(values)
        values.except(*HIDDEN).transform_values do |value|
          value.is_a?(String) && value.start_with?("{") ? without_secrets(value) : value
        end
      end
      private_class_method :shown

      def without_secrets(text)
        object = Oj.load(text, mode: :strict)
        object.is_a?(Hash) ? object.except(*HIDDEN) : text
      rescue Oj::ParseError, EncodingError
        text
      end
      private_class_method :without_secrets
    end
  end
end
