# frozen_string_literal: true

require "re2"

module Northdrift
  module Rules
    # A person's own rule that takes fields out of messages: a regular expression (RE2) with named groups. Each group is a
    # field; its type says what becomes of the text.
    class Parser
      # The definition will not do. Its message is for the person who wrote it.
      class Mistake < Error
        # @return [String] what of it: pattern, types or find
        attr_reader :part

        def initialize(part, message)
          super(message)
          @part = part
        end
      end

      # Of a type: takes the text, gives the value, or nil when it is none.
      TYPES = {
        "text" => ->(text) { text },
        "whole" => ->(text) { Integer(text, 10, exception: false) },
        "number" => ->(text) { Float(text, exception: false) },
        # What the event has a place for.
        "severity" => ->(text) { Severity.from_word(text) || (text.match?(/\A[0-7]\z/) ? text.to_i : nil) },
        "time" => ->(text) { text },
        "machine" => ->(text) { text },
        "service" => ->(text) { text },
        "message" => ->(text) { text }
      }.freeze
      MOST_GROUPS = 40

      # @return [Integer]
      attr_reader :id
      # @return [Hash{String=>String}] types by group, in the order of the groups
      attr_reader :types

      # @param id [Integer]
      # @param pattern [String] RE2 syntax, with named groups
      # @param types [Hash{String=>String}] see {TYPES}; text by default
      # @param find [String] which events it looks at; all by default
      # @raise [Mistake]
      def initialize(pattern:, id: 0, types: {}, find: "")
        @id = id
        @regex = RE2::Regexp.new(pattern, log_errors: false, max_mem: 1 << 22)
        raise Mistake.new("pattern", "the expression cannot be used: #{@regex.error}") unless @regex.ok?

        groups = @regex.named_capturing_groups.sort_by(&:last).map(&:first)
        raise Mistake.new("pattern", "name at least one part of it, such as (?P<user>\\S+)") if groups.empty?
        raise Mistake.new("pattern", "it has #{groups.size} named parts; #{MOST_GROUPS} are the most") if groups.size > MOST_GROUPS

        @numbers = @regex.named_capturing_groups
        @types = groups.to_h { |group| [group, type(types[group] || "text")] }
        @condition = find.strip.empty? ? nil : Find::Matcher.new(Find::Parser.parse(find))
      rescue Find::Mistake => error
        raise Mistake.new("find", error.message)
      end

      # @param message [String] UTF-8
      # @return [Hash{String=>Object}, nil] typed values by group; nil when the expression does not match
      def read(message)
        match = @regex.match(message) or return
        @types.each_with_object({}) do |(group, type), values|
          text = match[@numbers[group]]
          values[group] = TYPES.fetch(type).call(text) unless text.nil?
        end
      end

      # @param event [Event] gains the fields; those that its reader found stay
      # @param subject [#call] gives the event as conditions look at it
      # @param clock [Reading::Clock]
      # @return [Boolean] whether it matched
      def apply(event, subject, clock)
        return false if @condition && !@condition.match?(subject.call)

        values = read(Text.utf8(event.message)) or return false
        fields = event.fields.dup
        values.each { |group, value| put(event, fields, group, value, clock) unless value.nil? }
        event.fields = fields
        true
      end

      private

      def type(name)
        raise Mistake.new("types", "there is no type “#{Text.display(name)}”; there are #{TYPES.keys.join(', ')}") unless TYPES.key?(name)

        name
      end

      def put(event, fields, group, value, clock)
        case @types[group]
        when "severity" then event.severity = value
                             event.severity_rule = "parser #{@id}"
        when "time" then (stamp = Reading::Stamp.read_value(value, clock)) && time(event, stamp)
        when "machine" then event.machine = value
        when "service" then event.service = value
        when "message" then event.message = value.b
        else fields[Reading::FieldNames.common(group)] ||= value.is_a?(String) ? value.b : value
        end
      end

      def time(event, stamp)
        event.time_us = stamp.us
        event.stamped = true
        event.inferred = stamp.inferred
      end
    end
  end
end
