# frozen_string_literal: true

module Northdrift
  module Measure
    # Ways to make one number of the values of many events. Each gathers in its own shape, which can be sent between
    # processes, put together with another of its kind, and made a number at the end.
    module Aggregate
      # @!attribute field [Boolean] whether it measures a field
      # @!attribute numeric [Boolean] whether the values must be numbers
      # @!attribute start [#call] an empty gathering
      # @!attribute add [#call] takes a gathering and a value, returns the gathering
      # @!attribute join [#call] takes two gatherings, returns them together
      # @!attribute result [#call] takes a gathering, returns a number or nil
      Way = Struct.new(:field, :numeric, :start, :add, :join, :result, keyword_init: true)

      def self.folded(result = :itself, &)
        Way.new(
          field: true, numeric: true, start: -> {}, add: ->(state, value) { state ? yield(state, value) : value },
          join: ->(one, other) { one && other ? yield(one, other) : one || other }, result: result.to_proc
        )
      end
      private_class_method :folded

      def self.quantile(share)
        Way.new(
          field: true, numeric: true, start: -> { [] }, add: ->(values, value) { values << value },
          join: ->(one, other) { one.concat(other) }, result: ->(values) { Quantiles.of(values.tally.sort, [share])[0] }
        )
      end
      private_class_method :quantile

      ALL = {
        "count" =>
          Way.new(
            field: false, numeric: false, start: -> { 0 }, add: ->(n, _) { n + 1 },
            join: ->(one, other) { one + other }, result: :itself.to_proc
          ),
        "distinct" =>
          Way.new(
            field: true, numeric: false, start: -> { {} },
            add: ->(values, value) { values.tap { values[value] = true } }, join: ->(one, other) { one.merge!(other) },
            result: :size.to_proc
          ), "sum" => folded { |one, other| one + other }, "min" => folded { |one, other| [one, other].min },
        "max" => folded { |one, other| [one, other].max },
        "avg" =>
          Way.new(
            field: true, numeric: true, start: -> { [0.0, 0] },
            add: ->(state, value) { [state[0] + value, state[1] + 1] },
            join: ->(one, other) { [one[0] + other[0], one[1] + other[1]] },
            result: ->(state) { state[0] / state[1] if state[1].positive? }
          ), "p50" => quantile(0.5), "p95" => quantile(0.95), "p99" => quantile(0.99)
      }.freeze
    end
  end
end
