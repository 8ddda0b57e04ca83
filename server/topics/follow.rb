# frozen_string_literal: true

module Northdrift
  module Server
    module Topics
      # Lines of a question as they come in, and those that noise rules turned away.
      class Follow
        # @param question [Store::Question]
        # @param number [Integer] told with each event, so that a page knows which of its questions it is of
        def initialize(question, number)
          @question = question
          @number = number
        end

        # @return [String]
        def news
          return begin_with unless @following

          lines(@following.look(Store::Clock.now_us)) + turned_away
        end

        private

        def begin_with
          @following = Store::Following.new(@question.spec, Store::Clock.now_us)
          @away = Store::IntakeRules.last_turned_away
          event("ready")
        end

        def event(name, **data) = Topics.event(name, { "follow" => @number, **data.transform_keys(&:to_s) })

        def lines(fresh)
          return "" if fresh.events.empty?

          event("lines", lines: fresh.events.map { |event| Present.line(event) }, skipped: fresh.skipped)
        end

        # As far as they are known and the question would have them.
        def turned_away
          lines = Store::IntakeRules.turned_away(@away)
          return "" if lines.empty?

          @away = lines.last.id
          matcher = Find::Matcher.new(@question.tree)
          seen = Store::Sight.current&.matcher
          wanted = lines.select { |line| matcher.match?(line.subject) && (seen.nil? || seen.match?(line.subject)) }
          wanted.empty? ? "" : event("turned-away", lines: wanted.map { |line| Present.turned_away(line) })
        end
      end
    end
  end
end
