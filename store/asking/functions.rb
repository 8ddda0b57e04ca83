# frozen_string_literal: true

require "re2"

module Northdrift
  module Store
    # SQL functions for what SQLite cannot tell by itself: regular expressions (RE2, linear in time) and values of
    # fields. A connection has them once; patterns and tests are handed over by number.
    class Functions
      KEPT = 1000
      # Columns as functions are given them: a text would end at its first NUL.
      HEAD, BODY, EXTRA = %w[head body extra].map { |column| "CAST(events.#{column} AS BLOB)" }

      # @param kinds [Kinds]
      def initialize(kinds)
        @kinds = kinds
        @tests = {}
        @regexes = {}
      end

      # @return [Functions] those of the current connection
      def self.current(kinds)
        connection = Database.raw
        known = connection.instance_variable_get(:@northdrift_functions)
        return known if known&.kinds.equal?(kinds)

        connection.instance_variable_set(
          :@northdrift_functions, new(kinds).tap { |functions| functions.define(connection) }
        )
      end

      # @return [Kinds]
      attr_reader :kinds

      # @param database [SQLite3::Database]
      def define(database)
        database.define_function("northdrift_matches") { |pattern, text| text && regex(pattern).match?(text) ? 1 : 0 }
        database.define_function("northdrift_message_matches") do |pattern, body, extra, spans|
          regex(pattern).match?(Spans.message(body, extra, spans)) ? 1 : 0
        end
        database.define_function("northdrift_raw") do |head, body, id, shift|
          Head.restore(head, EventId.micros(id) + shift) + body
        end
        database.define_function("northdrift_index_text") { |body, extra| IndexText.of(body, extra) }
        database.define_function("northdrift_test") { |key, text| @tests.fetch(key)[1].call(Text.utf8(text)) ? 1 : 0 }
        database.define_function("northdrift_field") do |key, kind_id, body, extra, spans|
          field?(key, kind_id, body, extra, spans) ? 1 : 0
        end
      end

      # @param field [String]
      # @param test [#call] takes a value
      # @return [Integer] number to call `northdrift_field` with
      def register(field, test)
        @tests.shift if @tests.size > KEPT
        @number = (@number || 0) + 1
        @tests[@number] = [field, test]
        @number
      end

      private

      def regex(pattern)
        @regexes[pattern] ||= begin
          @regexes.clear if @regexes.size > KEPT
          RE2::Regexp.new(pattern, log_errors: false)
        end
      end

      def field?(key, kind_id, body, extra, spans)
        field, test = @tests.fetch(key)
        value =
          if field == :message
            Spans.message(body, extra, spans)
          else
            Spans.field(@kinds[kind_id], field, body, extra, spans)
          end
        !value.nil? && Find::Values.fits?(test, value)
      end
    end
  end
end
