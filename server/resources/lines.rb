# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Pages of lines, and one line whole.
      class Lines < Resource
        SHIFT = /\A(.+):(-?\d{1,16}):(-?\d{1,16}):(-?\d{1,16})\z/m

        get "/" do
          limit = integer("limit", 1..MOST_LINES, Store::Question::LIMIT)
          asked = question
          true_time = shifts.any? ? Store::TrueTime.new(asked, shifts) : nil
          place = { after: id("after"), before: id("before"), last: params["end"] == "last", limit: limit }
          page =
            if true_time
              true_time.page(**place, around: id("around"), at: time("at"))
            else
              asked.page(**place, around: id("around") || moment("at"))
            end
          json(
            "lines" => page.events.map { |event| Present.line(event, true_time) }, "more_before" => page.more_before,
            "more_after" => page.more_after, "highlights" => Find::Highlights.of(asked.tree)
          )
        end

        get "/:id" do
          event = Store::Events.find(id("id")) or problem(404, "not-found", "there is no line with this number")
          json(Present.detail(event, Store::Source.find(event.source_id)))
        end

        # Whether the pattern of a line was there before.
        get "/:id/seen-before" do
          event = Store::Events.find(id("id")) or problem(404, "not-found", "there is no line with this number")
          seen =
            Store::SeenBefore.new(
              Store::KnownPatterns.current.of(event.template_id), event.time_us,
              utc_offset: integer("utc_offset", -86_400..86_400, 0)
            )
          json(
            "pattern" => event.pattern, "text" => event.pattern_text, "first_us" => seen.first_us,
            "total" => seen.total, "start_us" => seen.start_us, "days" => seen.days, "hours" => seen.hours
          )
        end

        private

        # @return [Array<Store::TrueTime::Shift>] machine, from, to and what is added to its time, with colons between
        def shifts
          @shifts ||= Array(params["shift"]).map do |text|
            match = SHIFT.match(checked("shift", text)) or
              raise BadParameter.new("shift", "a shift is written as machine:from:to:microseconds")
            Store::TrueTime::Shift.new(match[1], *match.captures.drop(1).map(&:to_i))
          end
        end

        def id(name) = integer(name, -(1 << 62)..(1 << 62), nil)
        def moment(name) = time(name)&.then { |micros| Store::EventId.first(micros) }
      end
    end
  end
end
