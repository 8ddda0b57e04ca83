# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      # Reads what came in into batches, one for each group.
      class BundleReader
        # @!attribute batch [Store::Batch] line numbers count from the start of the group
        # @!attribute lines [Integer] physical lines, or messages
        # @!attribute readers [Hash{Symbol=>Integer}] events by reader
        # @!attribute timed [Integer] events with a time of their own
        # @!attribute lag_us [Integer] sum of the differences of their times to when they were received
        # @!attribute repeated [Integer] lines that came before, and were left out
        # @!attribute turned_away [Hash] by noise rules, see {Store::IntakeRules.note}
        # @!attribute crowded [Integer] events of machines beyond the limit of their sender
        # @!attribute unread [Integer] events that no reader but the last understood, and no parser
        # @!attribute watched_by [Array, nil] version of the alert rules that they were judged by
        Result = Struct.new(:group, :batch, :lines, :readers, :timed, :lag_us, :repeated, :turned_away, :unread,
                            :crowded, :watched_by) do
          # @return [Result] of the same group, with nothing in it
          def emptied = self.class.new(group, Store::Batch.new, 0, {}, 0, 0, lines, {}, 0, 0, watched_by)
        end
        # @!attribute results [Array<Result>]
        Read = Struct.new(:results, :fresh_kinds, :fresh_templates)

        CONTEXTS = 64
        # Lines of a group that are kept of what a noise rule turned away.
        SHOWN = 20

        # @param packer [Store::Packer]
        def initialize(packer)
          @packer = packer
          @contexts = {}
          @machines = MachineLimit.new
        end

        # @param bundle [Bundle]
        # @param caution [Caution, nil] has it read line by line
        # @return [Read]
        def read(bundle, caution = nil)
          @caution = caution
          rules(bundle.rules)
          Read.new(bundle.groups.map { |group| group(group) }, @packer.fresh_kinds, @packer.fresh_templates)
        end

        private

        # Compiled once, as long as they stay the same.
        def rules(packed)
          return if packed == @packed && @logbook

          @packed = packed
          @definition = definition = Bundle.unpack(packed)
          @logbook = Logbook::Catalogue.of(definition && definition["logbook"])
          @said = definition&.fetch("fleet", nil) || Find::Subjects::NOTHING
          @rules = Rules::Set.new(definition || {})
          look_out(definition && definition["alerts"])
        end

        # Where that fails, all lines are looked at once they are stored: no line waits for an alert rule.
        def look_out(alerts)
          @lookout = alerts && Watch::Lookout.new(alerts["rules"])
          @watched_by = alerts && alerts["version"]
        rescue StandardError => error
          warn "northdrift: alert rules cannot be used on the way in: #{error.message.lines.first.to_s.strip}"
          @lookout = @watched_by = nil
        end

        def group(group)
          @place = Origin.called(group.stream.place, @definition)
          @result = Result.new(group, Store::Batch.new, 0, {}, 0, 0, 0, {}, 0, 0, @watched_by)
          group.sizes ? messages(group) : records(group)
          @result.group = group.dup.tap { |copy| copy.text = nil }
          @result
        end

        def messages(group)
          context(group)
          at = 0
          group.sizes.each_with_index do |size, index|
            message(group.text.byteslice(at, size), Reading::Lines::LF, index + 1, at)
            at += size
          end
          @result.lines = group.sizes.size
        end

        # One that is a record by itself.
        def message(text, *place)
          return read_one(text, *place) unless @caution
          return if @caution.try { read_one(text, *place) }

          keep(Caution.kept(text, @context).stand_at(*place))
        end

        def read_one(text, *place)
          event = Reading::Catalogue.read(text, @context)
          Reading::RepeatedHour.new(@context.clock).place(event, nil)
          add(event.stand_at(*place))
        end

        def records(group)
          context = context(group)
          context.header = group.stream.header && Reading::Header.read(group.stream.header)
          lines = Reading::Lines.new(offset: group.place&.from || 0)
          return line_by_line(lines, group.text) if @caution

          records = Reading::Records.new(context, lines: lines) { |event| add(event) }
          records.push(group.text)
          records.finish
          @result.lines = records.settled_lines
        end

        def line_by_line(lines, text)
          lines.push(text) { |line, *place| message(line, *place.first(3)) }
          lines.finish { |line, *place| message(line, *place.first(3)) }
          @result.lines = lines.number
        end

        # With nothing read of it.
        def keep(event)
          event.time_us = @result.group.received_us
          event.stand_in(@place)
          @result.readers[event.reader] = @result.readers.fetch(event.reader, 0) + 1
          @result.unread += 1
          @packer.keep(event, @result.batch)
          @result.batch.watch
        end

        # Lines without a year or a time are taken to be of when they came; a clock is kept for each minute.
        def context(group)
          minute_us = group.received_us - (group.received_us % Store::Rollup::MINUTE)
          key = [group.stream.zone, group.stream.machine, minute_us]
          @contexts.shift if @contexts.size > CONTEXTS
          @context =
            @contexts[key] ||= Reading::Context.new(
              clock: Reading::Clock.new(zone: group.stream.zone, reference_us: group.received_us),
              machine: group.stream.machine
            )
        end

        def add(event)
          received_us = @result.group.received_us
          if event.stamped
            @result.timed += 1
            @result.lag_us += received_us - event.time_us
          else
            event.time_us = received_us
          end
          event.machine ? keep_to_limit(event) : event.stand_in(@place)
          rule = @rules.empty? ? nil : @rules.apply(event, @result.group.stream.name, @context.clock, received_us)
          return turn_away(event, rule) if rule

          @result.readers[event.reader] = @result.readers.fetch(event.reader, 0) + 1
          @result.unread += 1 if event.reader == Reading::Formats::Plain::NAME &&
                                 !event.constants.key?(Rules::Parser::FIELD)
          happening = @logbook.read(event, @result.group.stream.name, @said)
          @packer.pack(event, @result.batch)
          @result.batch.tell(happening)
          watch(event, happening) if @lookout
        end

        def watch(event, happening)
          batch = @result.batch
          text = batch.index_texts[batch.size - 1]
          batch.watch if @lookout.wanted?(event, text, @result.group.stream.name, happening)
        end

        # The machine's own name stands in the line still.
        def keep_to_limit(event)
          stream = @result.group.stream
          return if @machines.admits?(stream, event.machine, @result.group.received_us)

          event.machine = MachineLimit.rest(stream)
          @result.crowded += 1
        end

        def turn_away(event, rule)
          taken = @result.turned_away[rule] ||= [0, 0, []]
          taken[0] += 1
          taken[1] += event.raw.bytesize
          taken[2] << [
            event.time_us, event.severity, event.machine, event.service, Text.display(event.message.byteslice(0, 2000))
          ]
          taken[2].shift if taken[2].size > SHOWN
        end
      end
    end
  end
end
