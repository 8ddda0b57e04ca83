# frozen_string_literal: true

module Northdrift
  module Store
    # Counts of the events of one transaction, on their way into the roll-ups. They are counted here while all that is
    # counted is at hand: grouping the rows once they are written takes six times as long.
    class Tally
      SEVERITY = EventId::SEVERITY_BITS
      # Steps of time count from here on, so that none is negative: stamps have years from 1 to 9999. Kinds and
      # templates are fewer than 2^24, so that a key of three parts is one machine word.
      TIME_BITS = 30
      FIRST = -(1 << (TIME_BITS - 1))
      NUMBERED = 1 << (TIME_BITS + SEVERITY)
      MINUTE, SLOT, HOUR = [Rollup::MINUTE, Rollup::SLOT, Rollup::HOUR].map { |span| span / EventId::MILLISECOND }
      SLOTS = Rollup::HOUR / Rollup::SLOT
      ADD = "INSERT INTO %s VALUES %s ON CONFLICT DO UPDATE SET n = n + excluded.n"
      # Rows that one statement takes.
      ROWS = 32

      def initialize
        @minutes = Hash.new(0)
        @kinds = Hash.new(0)
        @templates = Hash.new(0)
        @ids = []
      end

      # @param batch [Batch]
      # @param ids [Array<Integer>] of its events, by index
      # @param kinds [Hash{Integer=>Integer}] ids by the batch's numbers
      # @param templates [Hash{Integer=>Integer}] likewise
      def add(batch, ids, kinds, templates)
        @ids << ids
        starts = ends = minute = slot = hour = 0
        ids.each_with_index do |id, index|
          # Most lines are of the minute of the line before.
          if id >= ends || id < starts
            millis = EventId.millis(id)
            minute = millis / MINUTE
            starts = (minute * MINUTE) << EventId::TIME_BITS
            ends = ((minute + 1) * MINUTE) << EventId::TIME_BITS
            minute <<= SEVERITY
            slot = ((millis / SLOT) - FIRST) << SEVERITY
            hour = ((millis / HOUR) - FIRST) << SEVERITY
          end
          severity = id & EventId::SEVERITY_MASK
          @minutes[minute | severity] += 1
          @kinds[(kinds[batch.kinds[index]] * NUMBERED) | slot | severity] += 1
          @templates[(templates[batch.templates[index]] * NUMBERED) | hour | severity] += 1
        end
      end

      # Called within the transaction. Rows go in the order of their keys, which is that of the tables.
      def write
        put("minute_counts", @minutes, false)
        put("kind_counts", @kinds, true)
        put("kind_hours", kind_hours, true)
        put("template_counts", @templates, true)
        BusyMinutes.add(@minutes.keys.map { |key| key >> SEVERITY }.uniq, @ids)
      end

      private

      # Those by slot, put together.
      def kind_hours
        @kinds.each_with_object(Hash.new(0)) do |(key, n), hours|
          time = key >> SEVERITY
          slot = (time & ((1 << TIME_BITS) - 1)) + FIRST
          hour = (slot / SLOTS) - FIRST
          hours[((time >> TIME_BITS) * NUMBERED) | (hour << SEVERITY) | (key & EventId::SEVERITY_MASK)] += n
        end
      end

      # @param numbered [Boolean] whether a kind or template stands before the time
      def put(table, counts, numbered)
        keys = counts.keys.sort!
        place = 0
        [ROWS, 1].each do |size|
          next if keys.size - place < size

          row = numbered ? "(?, ?, ?, ?)" : "(?, ?, ?)"
          Database.prepare(format(ADD, table, ([row] * size).join(", "))) do |statement|
            while place + size <= keys.size
              at = 0
              size.times { |index| at = bind(statement, at, keys[place + index], counts, numbered) }
              statement.step
              statement.reset!
              place += size
            end
          end
        end
      end

      # @return [Integer] the place that was bound last
      def bind(statement, at, key, counts, numbered)
        time = key >> SEVERITY
        if numbered
          statement.bind_param(at += 1, time >> TIME_BITS)
          time = (time & ((1 << TIME_BITS) - 1)) + FIRST
        end
        statement.bind_param(at += 1, time)
        statement.bind_param(at += 1, key & EventId::SEVERITY_MASK)
        statement.bind_param(at += 1, counts[key])
        at
      end
    end
  end
end
