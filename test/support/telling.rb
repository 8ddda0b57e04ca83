# frozen_string_literal: true

module Northdrift
  # Somebody is told of alerts: what tests of that share. The clock goes as they say.
  module Telling
    RULE = {
      "name" => "Many refused", "severity" => "error", "quiet" => "2min", "steps" => "1. Look.", "tags" => ["network"],
      "when" => { "count" => { "find" => "refused", "at_least" => 3, "within" => "60s", "by" => ["host.name"] } }
    }.freeze
    SECOND = 1_000_000
    START = Time.utc(2026, 11, 22, 6).to_i * SECOND

    # What the environment says while the block runs.
    def with_settings(values)
      before = ENV.to_h.slice(*values.keys)
      values.each { |name, value| ENV[name] = value }
      yield
    ensure
      values.each_key { |name| ENV[name] = before[name] }
    end

    def clock
      @now_us ||= START + (100 * SECOND)
      -> { @now_us }
    end

    def later(seconds) = @now_us = clock.call + (seconds * SECOND)

    def route(kind = "mail", settings = { "to" => ["oncall@tarnholm.example"] }, **definition)
      Store::AlertRoute.create!(
        name: "On call", kind: kind, given: settings, wanted: definition.transform_keys(&:to_s), created_us: 1,
        changed_us: 1
      )
    end

    # @return [Store::Alert]
    def raise_alert(machine = "alder", at: clock.call)
      rule = Store::AlertRule.first || Store::AlertRule.create!(given: RULE, created_us: 1, changed_us: 1)
      span = Watch::Span.new(at - (20 * SECOND), at, at)
      Store::Alert.note(rule.rule, [machine], [span], clock.call).first
    end

    def plan
      @planner ||= Server::Sending::Planner.new(clock: clock)
      nil while @planner.step
    end

    def courier(route) = Server::Sending::Courier.new(route, clock: clock)

    # Plans, and has the courier go, some seconds later.
    def tell(route, after: 11)
      plan
      later(after)
      courier(route).step
    end

    def told = Store::AlertDelivery.order(:id).map { |one| [one.occasion, one.state] }
  end
end
