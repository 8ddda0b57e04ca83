# frozen_string_literal: true

module Northdrift
  module Intake
    # Reads segments into batches. Knows neither files nor the database, so that it can work in a process of its own.
    class SegmentReader
      # What is known of a segment's stream.
      # @!attribute header [String, nil] the line before it that names the columns
      # @!attribute rules [Hash] parsers that hold for it, see {Rules::Set}
      # @!attribute date_order [String, nil] a key of {Reading::DateOrder::ORDERS}
      # @!attribute place [String, nil] the machine of records that name none where no person says it, see {Origin}
      # @!attribute start [Boolean] whether a new record starts with the segment (it follows on otherwise)
      # @!attribute lines_before [Integer, nil] physical lines of the run that other tasks had
      Task = Struct.new(:bytes, :offset, :start, :goes_on, :zone, :reference_us, :machine, :name, :rules, :header,
                        :date_order, :place, :lines_before) do
        def bytesize = bytes.bytesize
      end

      # @!attribute batch [Store::Batch] line numbers count from the start of the run of segments that go on
      # @!attribute fresh_kinds [Array<Array>]
      # @!attribute fresh_templates [Array<Array(Integer, String)>]
      # @!attribute settled [Integer] offset up to which the stream is in events
      # @!attribute lines [Integer] physical lines up to there, from the start of the run
      # @!attribute readers [Hash{Symbol=>Integer}] events by reader
      # @!attribute undated [Integer] events without a time of their own
      # @!attribute place [String, nil] what events that name no machine were given as theirs, where there are any
      Result =
        Struct.new(:batch, :fresh_kinds, :fresh_templates, :settled, :lines, :readers, :undated, :place, :goes_on)

      # @param packer [Store::Packer]
      def initialize(packer = Store::Packer.new)
        @packer = packer
        @contexts = {}
      end

      # @param task [Task]
      # @param caution [Caution, nil] has it read line by line
      # @return [Result]
      def read(task, caution = nil)
        start(task) if task.start
        @task = task
        @batch = Store::Batch.new
        @readers = Hash.new(0)
        @undated = 0
        @placed = false
        caution ? line_by_line(caution) : @records.push(task.bytes)
        @records.finish unless task.goes_on
        Result.new(
          @batch, @packer.fresh_kinds, @packer.fresh_templates, @records.settled, @records.settled_lines,
          @readers.to_a.to_h, @undated, (@place if @placed), task.goes_on
        )
      end

      private

      def start(task)
        key = [task.zone, task.reference_us, task.machine, task.date_order]
        context =
          @contexts[key] ||= Reading::Context.new(
            clock: Reading::Clock.new(
              zone: task.zone, reference_us: task.reference_us, date_order: task.date_order
            ), machine: task.machine
          )
        @context = context
        @context.header = task.header && Reading::Header.read(task.header)
        @context.day = nil if task.offset.zero?
        @rules = Rules::Set.new(task.rules) if task.rules && task.rules != @definition
        @logbook = Logbook::Catalogue.of(task.rules && task.rules["logbook"])
        @said = task.rules&.fetch("fleet", nil) || Find::Subjects::NOTHING
        @definition = task.rules
        @place = Origin.called(task.place, task.rules)
        @contexts.shift if @contexts.size > 8
        @lines = Reading::Lines.new(offset: task.offset, number: task.lines_before || 0)
        @records = Reading::Records.new(context, lines: @lines) { |event| add(event) }
      end

      # What stands behind the last ending is left for the next task of the run.
      def line_by_line(caution)
        @lines.push(@task.bytes) { |text, *place| one(caution, text, *place.first(3)) }
        @lines.finish { |text, *place| one(caution, text, *place.first(3)) } unless @task.goes_on
      end

      def one(caution, text, *place)
        return if caution.try { add(Reading::Catalogue.read(text, @context).stand_at(*place)) }

        event = Caution.kept(text, @context).stand_at(*place)
        @placed = true if event.stand_in(@place)
        @packer.keep(event, @batch)
        count(event)
      end

      def add(event)
        @rules.apply(event, @task.name, @context.clock, @task.reference_us) if @definition && !@rules.empty?
        @placed = true if event.stand_in(@place)
        happening = @logbook.read(event, @task.name, @said) unless dated_by_file?(event)
        @packer.pack(event, @batch)
        @batch.tell(happening)
        count(event)
      end

      def count(event)
        @readers[event.reader] += 1
        @undated += 1 unless event.stamped
      end

      # Nothing happened at that time.
      def dated_by_file?(event) = !event.stamped && event.time_us == @task.reference_us
    end
  end
end
