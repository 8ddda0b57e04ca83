# frozen_string_literal: true

module Northdrift
  module Watch
    # What a rule waits for that no line tells by itself, since it is found out about many: what is unusual, and why
    # something restarted.
    class Discovery
      # By the condition: what there is of it.
      SORTS = {
        "unusual" => Unusual::Priority::MOST_SURPRISE.keys,
        "restart" => [*Logbook::Verdicts::RULES.fetch("reasons").keys, Logbook::Verdicts::UNKNOWN]
      }.freeze
      PARTS = { "unusual" => %w[of priority], "restart" => %w[of] }.freeze
      PRIORITIES = (0..100)
      # In words.
      SAYS = { "unusual" => "unusual: ", "restart" => "restarted: " }.freeze

      # @return [String] key of {SORTS}
      attr_reader :kind
      # @return [Array<String>] sorts that it is about; all, where none is named
      attr_reader :of
      # @return [Integer] the least, of what is unusual
      attr_reader :priority

      # @param kind [String] key of {SORTS}
      # @param values [Hash{String=>Object}] "of" and "priority"
      # @raise [Rules::Mistake]
      def initialize(kind, values)
        @kind = kind
        @of = sorts(values["of"])
        @priority = values.fetch("priority", Unusual::Priority::LISTED)
        return if @priority.is_a?(Integer) && PRIORITIES.cover?(@priority)

        raise Rules::Mistake.new("priority", "priority is a whole number from 0 to 100")
      end

      # @return [String]
      def in_words
        what = @of == SORTS.fetch(@kind) ? "anything" : @of.join(" or ")
        "#{SAYS.fetch(@kind)}#{what}#{" of priority #{@priority} or more" if @kind == 'unusual'}"
      end

      private

      def sorts(given)
        known = SORTS.fetch(@kind)
        chosen = Array(given)
        stray = chosen.find { |sort| !known.include?(sort) }
        return chosen.empty? ? known : chosen unless stray

        raise Rules::Mistake.new("of", "there is no “#{Text.display(stray.to_s)}”; there are #{known.join(', ')}")
      end
    end
  end
end
