# frozen_string_literal: true

module Northdrift
  module Store
    # What a person asks: find text, conditions from clicks, a window of time and severities that are switched off.
    # Answers come from all events of the window.
    class Question
      LIMIT = 200
      # So many rows are looked at sooner than found through the full-text index.
      WALK = 50_000
      # In a shorter window each row is asked for its exact time.
      SHORT_US = 10_000_000
      TIME = "((events.id >> #{EventId::TIME_BITS}) * #{EventId::MILLISECOND} + events.shift)".freeze
      # How far behind its time a row may stand where very many have the same.
      FULL_US = 10_000_000

      DAY_US = 86_400_000_000
      # How far back windows lie that people compare with: at the same time of day, and of the week.
      SHIFTS = { "day" => DAY_US, "week" => 7 * DAY_US, "month" => 28 * DAY_US }.freeze
      COMPARED_WITH = ["before", *SHIFTS.keys].freeze
      # Any other window: an interval of two moments in UTC (ISO 8601-1, section 5.5.2.2).
      INTERVAL = %r{\A([^/\s]+Z)/([^/\s]+Z)\z}

      # What a question is to be compared with cannot be understood.
      NoComparison = Class.new(Error)

      # @!attribute events [Array<StoredEvent>] in order of time
      # @!attribute more_before [Boolean] whether there are earlier ones in the window
      # @!attribute more_after [Boolean]
      Page = Struct.new(:events, :more_before, :more_after)

      # @return [Object] the condition as a {Find::Tree}
      attr_reader :tree
      # @return [Integer] microseconds UTC; to is not included
      attr_reader :from_us, :to_us
      # @return [Hash] what it was made with, so that another process can make the same
      attr_reader :spec

      # @param find [String] find text
      # @param chips [Array<String>] further find texts, all of which must hold
      # @param from_us [Integer, nil] nil: from the first event
      # @param to_us [Integer, nil] nil: to the last
      # @param hidden [Array<Integer>] severities that are switched off
      # @param instead [String, nil] a condition that takes the place of those on the same field
      # @param rest [Boolean] whether the other lines of the window are asked for: those for which it does not hold
      # @param checked [Boolean] whether a field that no line has is a mistake; it is one when a person asks
      # @param sight [String, nil] that it is asked within, see {Sight}
      # @param kinds [Kinds]
      # @raise [Find::Mistake]
      def initialize(
        find: "",
        chips: [],
        from_us: nil,
        to_us: nil,
        hidden: [],
        instead: nil,
        rest: false,
        checked: true,
        sight: Sight.find,
        kinds: Kinds.current
      )
        raise Error, "what one may see has changed meanwhile; ask again" unless sight == Sight.find

        @spec = {
          find: find, chips: chips, from_us: from_us, to_us: to_us, hidden: hidden, instead: instead, rest: rest,
          checked: checked, sight: sight
        }
        @kinds = kinds
        known = checked ? -> { @kinds.field_names } : nil
        Functions.current(kinds)
        @tree = Find::Tree.all([find, *chips].map { |text| Find::Parser.parse(text, known: known) })
        @tree = swap(instead) if instead
        @tree = Find::Tree.all([@tree, Find::Tree::Severities.new([*0..8] - hidden)]) unless hidden.empty?
        @tree = Find::Tree::Not.new(@tree) if rest
        earliest, latest = Span.all
        @from_us = from_us || earliest
        @to_us = to_us || latest
        @plan = Planner.new(@kinds).plan(@tree)
        seen = @plan & Sight.condition
        @condition = short? ? seen & exact : seen
      end

      # Pages by key, from either end or from a place between.
      # @param after [Integer, nil] id after which the page starts
      # @param before [Integer, nil] id before which it ends
      # @param around [Integer, nil] id, or first id of a moment, in the middle
      # @param last [Boolean] the end of the window rather than its start
      # @return [Page]
      def page(after: nil, before: nil, around: nil, last: false, limit: LIMIT)
        return around(around, limit) if around
        return forward(after ? after + 1 : first_id, limit) unless before || last

        backward(before ? before - 1 : last_id, limit)
      end

      # @param limit [Integer]
      # @return [Array<Integer>] ids of its last events, ascending
      def latest_ids(limit) = select(nil, first_id, last_id, "DESC", limit).flatten.reverse

      # @return [Boolean] whether nothing narrows it but its window
      def everything? = @plan.everything?

      # @return [Array<String>, nil] names of the machines that its lines may be of; nil where its conditions leave none
      #   out
      def machines
        possible = Find::Possible.new(@tree, ["host.name", *Fleet::FIELDS])
        names = @kinds.filter_map(&:machine).uniq
        left = names.select { |name| possible.possible?(Fleet.current.fields(name).merge("host.name" => name)) }
        left unless left.size == names.size && possible.possible?({})
      end

      # @return [Integer] exact number of events
      def total = Counts.new(@condition, ids: method(:ids)).total(@from_us, @to_us)

      # @param by [Symbol, nil] :machine or :service for a series each
      # @param bins [Integer] at most so many steps
      # @return [Histogram]
      def histogram(by: nil, bins: 96, utc_offset: 0, fold: false, &progress)
        Histogram.new(self, by: by, bins: bins, utc_offset: utc_offset, fold: fold).count(&progress)
      end

      # Counts of a part of the window.
      # @return [Hash{Array(Integer, Integer, String)=>Integer}] by step, severity and name of machine or service (or
      #   nil)
      def step_counts(from_us, to_us, by:, start_us:, step_us:)
        lanes = by && @kinds.to_h { |kind| [kind.id, kind.public_send(by)] }
        Counts.new(@condition, lanes: lanes, ids: method(:ids)).each_step(from_us, to_us, start_us, step_us)
      end

      # Counts of a part of the window by template of the message.
      # @return [Array(Hash, Hash)] by template, severity and step: events, first id and last id; and machines by
      #   template
      def template_counts(from_us, to_us, start_us:, step_us:)
        TemplateCounts.new(access_of(from_us, to_us), @kinds).count(start_us, step_us)
      end

      # Counts of a part of the window by field and value.
      # @return [Array(Integer, Hash)] see {FieldCounts}
      def field_counts(from_us, to_us) = FieldCounts.new(access_of(from_us, to_us), @kinds).count

      # Counts of a part of the window by word.
      # @return [Array(Integer, Hash{String=>Integer})] lines, and lines by word
      def word_counts(from_us, to_us) = WordCounts.new(access_of(from_us, to_us), @kinds).count

      # @return [Array(Integer, Integer)] lines of a part of the window, and bytes of their text
      def sizes(from_us, to_us)
        table, where = (access = access_of(from_us, to_us)).parts(row: true)
        Database.rows(
          "SELECT count(*), coalesce(sum(length(events.head) + length(CAST(events.body AS BLOB))), 0) " \
          "#{table} #{where}",
          access.binds
        ).first
      end

      # Values in the open places of a pattern, whose lines the question is about.
      # @return [Array(Integer, Array<Hash{String=>Integer}>)] lines, and lines by value for each open place
      def open_places(from_us, to_us, pattern:)
        places = Patterns::Places.new(KnownPatterns.current.text(pattern).to_s)
        lines = 0
        counts = Array.new(places.size) { Hash.new(0) }
        Scan.each(access_of(from_us, to_us), "events.body, events.extra, events.spans") do |row|
          lines += 1
          places.of(Spans.message(*row))&.each_with_index { |value, place| counts[place][value] += 1 }
        end
        [lines, counts]
      end

      # First and last moment of each value of fields, by machine.
      # @return [Hash{Array(String, String, String)=>Array(Integer, Integer)}] by field, value and machine
      def sightings(from_us, to_us, fields:)
        found = {}
        Scan.each(
          access_of(from_us, to_us), "events.id, events.shift, events.kind_id, events.body, events.extra, events.spans"
        ) do |id, shift, kind_id, *text|
          kind = @kinds[kind_id]
          next unless kind.machine

          time_us = EventId.micros(id) + shift
          fields.each do |field|
            value = Spans.field(kind, field, *text) or next
            seen = found[[field, value, kind.machine]] ||= [time_us, time_us]
            seen[0] = time_us if time_us < seen[0]
            seen[1] = time_us if time_us > seen[1]
          end
        end
        found
      end

      # @param fields [Array<String>]
      # @return [LineValues]
      def values_of(fields) = LineValues.new(access_of(@from_us, @to_us), @kinds, fields)

      # Values of a part of the window, gathered by group and step of time.
      # @param clause [Measure::Clause]
      # @return [Hash] see {Gathering}
      def gathered(from_us, to_us, clause:, start_us:, step_us:)
        Gathering.new(access_of(from_us, to_us), @kinds, clause).count(start_us, step_us)
      end

      # @param with [String] "before" for the window that ends where this one starts, a key of {SHIFTS}, an {INTERVAL},
      #   or a condition on one field, such as another machine
      # @return [Question] the same with another window, or with that condition instead of its own
      # @raise [NoComparison]
      def compared_with(with)
        return moved(SHIFTS[with] || (@to_us - @from_us)) if COMPARED_WITH.include?(with)

        interval = INTERVAL.match(with)
        return within(*interval.captures.map { |text| moment(text) }) if interval

        self.class.new(**@spec, from_us: @from_us, to_us: @to_us, instead: with)
      end

      # @param chip [String] a further condition
      # @return [Question]
      def narrowed(chip) = self.class.new(**@spec, chips: [*@spec[:chips], chip], from_us: @from_us, to_us: @to_us)

      # @return [Question] the other lines of the window
      def rest = self.class.new(**@spec, rest: !@spec[:rest], from_us: @from_us, to_us: @to_us)

      # @return [Boolean] whether counts kept beside the lines tell all that it asks
      def told_by_counts? = @condition.told_by_counts?

      # @return [Question] the same of a part of its window
      def part(from_us, to_us) = self.class.new(**@spec, from_us: from_us, to_us: to_us)

      # Does a task for pieces of the window, with several processes where there are some.
      # @param task [Symbol] a method that takes a window and the options
      # @param size [Integer] events of a piece
      # @yieldparam done [Float] 0 to 1, after each piece; what the block raises stops the work
      # @return [Array<Object>] results of the pieces, in no certain order
      def in_pieces(task, size: Pieces::SIZE, **options)
        return [public_send(task, @from_us, @to_us, **options)] if @condition.told_by_counts? && task == :step_counts

        results = []
        jobs = jobs(task, size: size, **options)
        Crew.each_result(jobs) do |result|
          results << result
          yield results.size.fdiv(jobs.size) if block_given?
        end
        results
      end

      # @param task [Symbol] a method that takes a window and the options
      # @param size [Integer] events of a piece
      # @return [Array<Crew::Job>] for pieces of the window
      def jobs(task, size: Pieces::SIZE, **options)
        Pieces.of(@from_us, @to_us, size: size).map { |window| Crew::Job.new(@spec, task, window, options) }
      end

      # Every event in order, for export and the command line; rows are read in small pages, so that nothing waits.
      # @yieldparam event [StoredEvent]
      def each(limit: nil, &block)
        after = nil
        left = limit
        loop do
          size = [left || 1000, 1000].min
          return if size.zero?

          page = page(after: after, limit: size)
          page.events.each(&block)
          left -= page.events.size if left
          return unless page.more_after

          after = page.events.map(&:id).max
        end
      end

      private

      def moved(by_us) = self.class.new(**@spec, from_us: @from_us - by_us, to_us: @to_us - by_us)

      def within(from_us, to_us)
        raise NoComparison, "the window to compare with ends before it starts" if to_us <= from_us

        self.class.new(**@spec, from_us: from_us, to_us: to_us)
      end

      def moment(text)
        (Time.iso8601(text).to_r * 1_000_000).to_i
      rescue ArgumentError
        raise NoComparison, "“#{Text.display(text)}” is no time like 2026-11-22T06:02:00Z"
      end

      def swap(text)
        condition = Find::Parser.parse(text, known: -> { @kinds.field_names })
        if condition.is_a?(Find::Tree::Compare) && Find::Tree::EQUAL.include?(condition.operator)
          return Find::Tree.swap(@tree, condition)
        end

        raise NoComparison,
              "a comparison is with #{COMPARED_WITH.join(', ')}, an interval of two times, or a condition like " \
              "host.name = alder"
      rescue Find::Mistake => error
        raise NoComparison, "it cannot be compared with “#{Text.display(text)}”: #{error.message}"
      end

      # Ids tell milliseconds, and where one is full, a later one: of a short window each row is asked for its time.
      def short? = @to_us - @from_us < SHORT_US

      def exact = Condition.new(sql: "#{TIME} >= ? AND #{TIME} < ?", binds: [@from_us, @to_us])

      def first_id = short? ? EventId.pack(@from_us / EventId::MILLISECOND, 0, 0) : EventId.first(@from_us)
      def last_id = EventId.first(short? ? @to_us + FULL_US : @to_us) - 1

      # @return [Array(Integer, Integer)] first and last id of a part of the window
      def ids(from_us, to_us)
        [
          from_us <= @from_us ? first_id : EventId.first(from_us),
          to_us >= @to_us ? last_id : EventId.first(to_us) - 1
        ]
      end

      def forward(from, limit)
        events = rows([from, first_id].max, last_id, "ASC", limit + 1)
        Page.new(in_time(events.first(limit)), from > first_id, events.size > limit)
      end

      def backward(to, limit)
        events = rows(first_id, [to, last_id].min, "DESC", limit + 1)
        Page.new(in_time(events.first(limit)), events.size > limit, to < last_id)
      end

      def around(id, limit)
        before = backward(id - 1, limit / 2)
        after = forward(id, limit - (limit / 2))
        Page.new(before.events + after.events, before.more_before, after.more_after)
      end

      # The exact time goes beyond the id's milliseconds.
      def in_time(events) = events.sort_by { |event| [event.time_us, event.id] }

      def rows(first, last, order, limit)
        select(StoredEvent::COLUMNS, first, last, order, limit).map { |row| StoredEvent.new(row, @kinds) }
      end

      # @param columns [String, nil] of the events; nil: the ids alone
      def select(columns, first, last, order, limit)
        return [] if last < first || @condition.nothing?

        access = access(first, last, order, limit)
        parts = access.parts(row: !columns.nil?).join(" ")
        Database.rows(
          "SELECT #{columns || access.id} #{parts} ORDER BY #{access.id} #{order} LIMIT ?", [*access.binds, limit]
        )
      end

      def access_of(from_us, to_us)
        Access.new(@condition, *ids(from_us, to_us), share: Counts.method(:share))
      end

      def access(first, last, order, limit)
        share = Counts.method(:share)
        return Access.new(@condition, first, last, share: share) unless @condition.told_by_counts?

        first, last = Reach.ids(@condition, first, last, backward: order == "DESC", limit: limit)
        Access.new(@condition, first, last, share: share, walk: Reach.events(first, last) <= WALK)
      end
    end
  end
end
