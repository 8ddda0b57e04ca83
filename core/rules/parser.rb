# frozen_string_literal: true

require "ipaddr"
require "re2"

module Northdrift
  module Rules
    # A person's own rule that takes fields out of messages: a regular expression (RE2) with named groups. Each group is
    # a field; its type says what becomes of the text.
    class Parser
      # Of a type: takes the text, gives the value, or nil when it is none.
      TYPES = {
        "text" => ->(text) { text },
        "whole" => ->(text) { Integer(text, 10, exception: false) },
        "number" => ->(text) { Float(text, exception: false)&.then { |number| number if number.finite? } },
        # These keep their unit as it stands; conditions and measures understand it.
        "duration" => ->(text) { text if Find::Quantity.parse(text)&.dimension == :time },
        "size" => ->(text) { text if Find::Quantity.parse(text)&.dimension == :size },
        "address" => ->(text) { address(text) },
        # What the event has a place for.
        "severity" => ->(text) { Severity.from_word(text) || (text.match?(/\A[0-7]\z/) ? text.to_i : nil) },
        "time" => ->(text) { text },
        "machine" => ->(text) { text },
        "service" => ->(text) { text },
        "message" => ->(text) { text }
      }.freeze
      FIELD_TYPES = TYPES.keys - %w[severity time machine service message]
      MOST_GROUPS = 40
      # Tells which parser has read a line.
      FIELD = "parser"

      # @return [Integer]
      attr_reader :id
      # @return [String]
      attr_reader :name
      # @return [Hash{String=>String}] types by group, in the order of the groups
      attr_reader :types

      # @param id [Integer]
      # @param name [String] lines that it has read have this as their field {FIELD}
      # @param pattern [String] RE2 syntax, with named groups
      # @param types [Hash{String=>String}] see {TYPES}; text by default
      # @param find [String] which events it looks at; all by default
      # @raise [Mistake]
      def initialize(pattern:, id: 0, name: "", types: {}, find: "")
        @id = id
        @name = name
        @constants = {}.compare_by_identity
        @regex = RE2::Regexp.new(pattern, log_errors: false, max_mem: 1 << 22)
        raise Mistake.new("pattern", "the expression cannot be used: #{@regex.error}") unless @regex.ok?

        groups = @regex.named_capturing_groups.sort_by(&:last).map(&:first)
        raise Mistake.new("pattern", "name at least one part of it, such as (?P<user>\\S+)") if groups.empty?
        if groups.size > MOST_GROUPS
          raise Mistake.new("pattern", "it has #{groups.size} named parts; #{MOST_GROUPS} are the most")
        end

        @numbers = @regex.named_capturing_groups
        @types = groups.to_h { |group| [group, type(types[group] || "text")] }
        @condition = find.strip.empty? ? nil : Find::Matcher.new(Find::Parser.parse(find))
      rescue Find::Mistake => error
        raise Mistake.new("find", error.message)
      end

      # @param text [String]
      # @return [String, nil] the text, when it is an IP address
      def self.address(text)
        text if text.match?(/[.:]/) && IPAddr.new(text)
      rescue IPAddr::Error
        nil
      end

      # @param message [String] UTF-8
      # @return [Hash{String=>Object}, nil] typed values by group; nil when the expression does not match
      def read(message) = texts(message)&.then { |texts| typed(texts) }

      # @param message [String] UTF-8
      # @return [Hash{String=>String}, nil] what each group took, as it stands
      def texts(message)
        match = @regex.match(message) or return
        @types.each_key.with_object({}) { |group, texts| (text = match[@numbers[group]]) && texts[group] = text }
      end

      # An expression may be written for the message, or for the line as it stands.
      # @param event [#message, #raw]
      # @return [Hash{String=>String}, nil] as {#texts} has it
      def taken(event)
        texts(Text.utf8(event.message)) ||
          (event.raw.bytesize > event.message.bytesize ? texts(Text.utf8(event.raw)) : nil)
      end

      # @param texts [Hash{String=>String}]
      # @return [Hash{String=>Object}] typed values by group
      def typed(texts) = texts.to_h { |group, text| [group, TYPES.fetch(@types[group]).call(text)] }

      # @param event [Event] gains the fields; those that its reader found stay
      # @param subject [#call] gives the event as conditions look at it
      # @param clock [Reading::Clock]
      # @return [Boolean] whether it matched
      def apply(event, subject, clock)
        return false if @condition && !@condition.match?(subject.call)

        texts = taken(event) or return false
        values = typed(texts)
        fields = event.fields.dup
        values.each { |group, value| put(event, fields, group, value, clock) unless value.nil? }
        event.fields = fields
        event.constants = marked(event.constants)
        true
      end

      # @return [Hash{String=>String}] name of the field by group, for the groups that become fields: those that the
      #   event has no other place for
      def fields
        @fields ||=
          @types
            .select { |_, type| FIELD_TYPES.include?(type) }
            .to_h { |group,| [group, Reading::FieldNames.common(group)] }
      end

      private

      # Tables of constants are few and shared, and so must these be.
      def marked(constants) = @constants[constants] ||= constants.merge(FIELD => @name).freeze

      def type(name)
        unless TYPES.key?(name)
          raise Mistake.new("types", "there is no type “#{Text.display(name)}”; there are #{TYPES.keys.join(', ')}")
        end

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
        else
          name = self.fields[group]
          fields[name] = value.is_a?(String) ? value.b : value unless fields.key?(name)
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
