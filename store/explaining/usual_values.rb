# frozen_string_literal: true

module Northdrift
  module Store
    # Which values the fields of a machine's service have had, where they are few, and which of them are new. It is
    # learned from a sample of the lines of each hour.
    class UsualValues
      # How far hours were looked at, as an hour since 1970.
      DONE = "values known until"
      # So many hours are looked at in one go, and of each so many lines, evenly spread.
      HOURS = 48
      SAMPLE = 2_000
      # A field with more values than that is not of few.
      MOST_KEPT = 30
      MOST_USUAL = 10
      MOST_SIZE = 80
      # Of fewer lines it is not known what is usual.
      LEAST_LINES = 200
      LEARN = NewPatterns::LEARN
      # The value that stands for many.
      MANY = ""

      # What a field is known to be.
      # @!attribute values [Hash{String=>Array(Integer, Integer)}] first hour, and lines
      Known = Struct.new(:values) do
        def many? = values.key?(MANY)
        def since = values.each_value.map(&:first).min
        def lines = values.each_value.sum(&:last)
        # @return [Integer] how many values were new after it was learned
        def later = values.each_value.count { |hour, _| hour >= since + LEARN }
      end

      # @param series [UnusualSeries]
      # @param to [Integer] the hour that is not over
      def initialize(series, to)
        @series = series
        first = Span.all.first / Rollup::HOUR
        @from = [Setting.get(DONE)&.to_i || first, to - OddityNoticing::MOST_HOURS].max
        @over = to
        @to = [to, @from + HOURS].min
        @changes = {}
      end

      # @return [Array<Array>] kind, subject and values of an {Oddity} but for its priority
      def found
        return [] if all? && @from >= @to

        @known = read
        (@from...@to).flat_map { |hour| sample(hour).flat_map { |event| look(event, hour) } }
      end

      # @return [Boolean] whether the hours that are over were all looked at
      def all? = @to >= @over

      # Called within a transaction, after {found}.
      def keep
        @changes.each_key { |key| write(key, @known[key]) }
        Setting.set(DONE, [@to, @from].max.to_s)
      end

      private

      def read
        known = Hash.new { |all, key| all[key] = Known.new({}) }
        Database.rows("SELECT machine, service, field, value, first_hour, n FROM usual_values")
          .each { |machine, service, field, value, hour, n| known[[machine, service, field]].values[value] = [hour, n] }
        known
      end

      def sample(hour)
        ids = [EventId.first(hour * Rollup::HOUR), EventId.first((hour + 1) * Rollup::HOUR)]
        total = Database.value("SELECT count(*) FROM events WHERE id >= ? AND id < ?", ids)
        step = [(total / SAMPLE.to_f).ceil, 1].max
        Database.rows("SELECT #{StoredEvent::COLUMNS} FROM events WHERE id >= ? AND id < ? AND line % ? = 0 ORDER BY " \
                      "id", [*ids, step]).filter_map do |row|
          event = StoredEvent.new(row, Kinds.current)
          event if @series.kinds.include?(event.kind.id) && event.machine
        end
      end

      def look(event, hour)
        event.own_fields.filter_map do |field, value|
          value = value.to_s
          next if value.empty? || value.size > MOST_SIZE

          key = [event.machine, event.service.to_s, field]
          known = @known[key]
          next if known.many?

          fresh = !known.values.key?(value)
          oddity = of(event, key, value, hour) if fresh && known.values.any?
          count(key, value, hour)
          oddity
        end
      end

      def count(key, value, hour)
        @changes[key] = true
        values = @known[key].values
        (values[value] ||= [hour, 0])[1] += 1
        @known[key].values = { MANY => [hour, 0] } if values.size > MOST_KEPT
      end

      def of(event, (machine, service, field), value, hour)
        known = @known[[machine, service, field]]
        return if known.values.size > MOST_USUAL || known.lines < LEAST_LINES || hour - known.since < LEARN
        # What is new of a new pattern is told with it.
        return if @series.new?(KnownPatterns.current.of(event.template_id), hour)

        ["value", "value #{[machine, service, field, value].join(' ')}",
         { machine: machine, service: service.presence, field: field, value: value, severity: event.severity, lines: 1,
           from_us: event.time_us, last_us: event.time_us,
           surprise: Northdrift::Unusual::Priority.surprise_of_new(known.later, hour - known.since) }]
      end

      def write(key, known)
        Database.rows("DELETE FROM usual_values WHERE machine = ? AND service = ? AND field = ?", key) if known.many?
        known.values.each_pair do |value, (hour, n)|
          Database.rows("INSERT INTO usual_values VALUES (?, ?, ?, ?, ?, ?) ON CONFLICT DO UPDATE SET n = excluded.n",
                        [*key, value, hour, n])
        end
      end
    end
  end
end
