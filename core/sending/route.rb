# frozen_string_literal: true

module Northdrift
  module Sending
    # Who is told of which alerts, and when: the part that is the same whichever way it goes.
    class Route
      # What may be told of an alert: that it was raised (or came again), that nobody has taken it for so long, and that
      # it has been calm, or was closed.
      OCCASIONS = %w[raised back].freeze
      KEYS = %w[severity tags rules owners find hours wait digest most back subject text].freeze
      SECOND_US = 1_000_000
      WAITS_US = (60 * SECOND_US)..(7 * 86_400 * SECOND_US)
      MOSTS = (1..1000)
      USUAL_MOST = 20

      # @return [Integer, nil] how long an alert must have been left alone before it is told
      attr_reader :wait_us
      # @return [Integer, nil] what came in so long is told together
      attr_reader :digest_us
      # @return [Integer] messages an hour to one recipient
      attr_reader :most
      # @return [Template]
      attr_reader :template

      # @param given [Hash{String=>Object}] by name, see docs/openapi.json, AlertRouteDefinition
      # @raise [Rules::Mistake] saying which part will not do
      def initialize(given)
        stray = (given.keys - KEYS).first
        raise Rules::Mistake.new(stray, "a route has no “#{Text.display(stray)}”; it has #{KEYS.join(', ')}") if stray

        @severity = severity(given.fetch("severity", "warning"))
        @tags = texts("tags", given["tags"])
        @rules = texts("rules", given["rules"])
        @owners = texts("owners", given["owners"])
        @matcher = matcher(given["find"].to_s.strip)
        @hours = Rules::Hours.new(given["hours"])
        @wait_us = duration("wait", given["wait"])
        @digest_us = duration("digest", given["digest"])
        @most = whole(given.fetch("most", USUAL_MOST))
        @back = given["back"] == true
        @template = Template.new(given["subject"].to_s, given["text"].to_s)
      end

      # @param occasion [String] one of {OCCASIONS}
      # @param alert [Watch::AlertSubject]
      # @param now_us [Integer]
      # @return [Boolean] whether it is told by this route
      def tells?(occasion, alert, now_us)
        return false if occasion == "back" && !@back

        alert.severity <= @severity && of_rules?(alert) && (@matcher.nil? || @matcher.match?(alert.subject)) &&
          @hours.include?(now_us)
      end

      private

      def of_rules?(alert)
        (@tags.empty? || @tags.intersect?(alert.tags)) && (@rules.empty? || @rules.include?(alert.name)) &&
          (@owners.empty? || @owners.include?(alert.owner))
      end

      def severity(name)
        Severity::NAMES.first(8).index(name) or
          raise Rules::Mistake.new("severity", "a severity is one of #{Severity::NAMES.first(8).join(', ')}")
      end

      def texts(part, given)
        return given.to_a if given.nil? || (given.is_a?(Array) && given.all?(String))

        raise Rules::Mistake.new(part, "#{part} is a list of texts")
      end

      def matcher(find)
        Find::Matcher.new(Find::Parser.parse(find)) unless find.empty?
      rescue Find::Mistake => error
        raise Rules::Mistake.new("find", "#{error.message} (column #{error.column})")
      end

      def duration(part, value)
        return if value.to_s.empty?

        quantity = Find::Quantity.parse(value.to_s)
        us = (quantity.base * SECOND_US).round if quantity&.dimension == :time
        return us if us && WAITS_US.cover?(us)

        raise Rules::Mistake.new(part, "#{part} is a time from 1min to 7d, such as 15min")
      end

      def whole(value)
        return value if value.is_a?(Integer) && MOSTS.cover?(value)

        raise Rules::Mistake.new("most", "a whole number of messages an hour, from #{MOSTS.begin} to #{MOSTS.end}")
      end
    end
  end
end
