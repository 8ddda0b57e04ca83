# frozen_string_literal: true

require "English"

module Northdrift
  module Intake
    # Brings files into the database. Each batch commits together with how far its source has been read, so that an
    # import that was stopped at any moment goes on there when the file is given again.
    class Importer
      # What came of one part. Lines and bytes count what was read now; `known_lines` were there already; `undated` are
      # the events that have no time of their own. `date_order` says which number of its dates was taken for the day,
      # where they can be read in two ways. `machine` is what lines that name none were given as theirs, after where
      # they came from.
      Result = Struct.new(
        :name, :lines, :events, :bytes, :unread, :known_lines, :readers, :problem, :undated, :date_order, :machine
      ) do
        def self.none(name, problem) = new(name, 0, 0, 0, 0, 0, {}, problem, 0, nil, nil)
      end

      # What an import came to.
      # @!attribute results [Array<Result>] one for each part
      # @!attribute duplicates [Integer] lines that were there already
      Summary = Struct.new(:files, :lines, :events, :bytes, :seconds, :unread, :duplicates, :results)

      # One batch on its way into the database, see {Store::Writer#write}.
      Part = Struct.new(:reading, :result, :packer, :first_line) do
        def batch = result.batch
        def fresh_kinds = result.fresh_kinds
        def fresh_templates = result.fresh_templates
        def source_id = reading.source.id
        def settle(_ids) = reading.settle(result, first_line)
        def leave_out(indexes) = result.batch = batch.without(indexes)
      end
      # So much text is written in one transaction: the more, the fewer pieces of full-text index.
      TRANSACTION_BYTES = 9 << 20

      # The disk is nearly full. What was not written is read when the file is given again.
      NoRoom = Class.new(Error)
      # The person stopped it.
      Cancelled = Class.new(Error)

      # @return [Array<Result>] of the parts that have ended
      attr_reader :results

      # @param zone [String] IANA zone of stamps that have none
      # @param machine [String, #call, nil] the machine of lines that name none; called with a part's name when it
      #   differs
      # @param place [#call, nil] gives the same for a part's name where `machine` says nothing, see {Origin}
      # @param name [String, nil] what the file is called where it came from; parts of an archive keep their own after
      #   it
      # @param clock [#call] current time in microseconds
      # @raise [Error] when the zone is not known
      def initialize(zone: "UTC", machine: nil, place: nil, import_id: nil, name: nil,
                     clock: -> { Store::Clock.now_us })
        TZInfo::Timezone.get(zone)
        @zone = zone
        @machine = machine
        @place = place
        @import_id = import_id
        @rename = name
        @clock = clock
        @sieve = Store::Sieve.new(Store::Writer.new)
        @room = Live::Room.new(File.dirname(Store::Database.path))
        @results = []
      rescue TZInfo::InvalidTimezoneIdentifier
        raise Error, "there is no time zone “#{zone}”; zones have names like Europe/Oslo or UTC"
      end

      # @param parts [Parts]
      # @yieldparam bytes [Integer] read so far
      # @yieldparam name [String] of the current part
      # @return [Summary]
      # @raise [Cancelled] when the block raises it; what was written stays
      def import(parts, &progress)
        started = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        @progress = progress
        @total = 0
        Store::Past.start_with(Store::LogbookSwitch.catalogue)
        @known = Known.load
        @parts = []
        @workers = Workers.new
        parts.each { |part| read_part(part) }
        Store::Database.checkpoint
        summary(Process.clock_gettime(Process::CLOCK_MONOTONIC) - started)
      ensure
        @workers&.stop
      end

      private

      def read_part(part)
        part.name = @rename + part.name[/!.*/m].to_s if @rename
        probe = part.problem ? "" : part.input.peek(Magic::PROBE)
        problem = part.problem || (probe.empty? ? "empty: there is nothing in it" : Magic.not_text(probe))
        return @results << Result.none(part.name, problem) if problem

        mark, encoding = Magic.bom(probe)
        part.input = Parts::Rewound.new(Decoder.new(part.input, mark, encoding)) if mark
        content(part, mark ? encoding.name : "UTF-8")
      rescue Parts::Damaged => error
        @results << Result.none(part.name, error.message)
      end

      def content(part, encoding)
        machine = @machine.respond_to?(:call) ? @machine.call(part.name) : @machine
        head = part.input.peek(Known::HEAD)
        ahead = Ahead.new(part.input, @known.candidates(head, part.name, machine))
        reading =
          SourceReading.new(
            part, ahead,
            fingerprint: Known.fingerprint(head), machine: machine, place: @place&.call(part.name), zone: @zone,
            encoding: encoding, now_us: @clock.call, import_id: @import_id
          )
        problem = segments(reading)
        @results << reading.finish(problem)
        @known.add(reading.entry)
      end

      # @return [String, nil] what stood in the way of the rest
      def segments(reading)
        reading.segments.each do |segment|
          reading.read_ahead(segment)
          @workers.read(reading.task(segment)) do |result, numbering|
            take(Part.new(reading, result, numbering, reading.lines_before(result)))
          end
        end
        nil
      rescue ReadingProcess::Lost, Cancelled, NoRoom
        raise # not for want of readable bytes
      rescue Error, Zlib::Error, Zip::Error, SystemCallError, EOFError => error
        "#{error.message}; what stands before was kept"
      ensure
        settle if $ERROR_INFO.nil?
      end

      def settle
        @workers.settle
        write
      end

      def take(part)
        @parts << part
        @total += part.batch.bytes
        write if @parts.sum { |waiting| waiting.batch.bytes } >= TRANSACTION_BYTES
        @progress&.call(@total, part.reading.name)
      rescue Cancelled
        write
        raise
      end

      def write
        parts = @parts
        @parts = []
        return if parts.empty?

        check_room
        Collection.after { @sieve.write { parts } }
        Store::Database.give_way
      end

      # All of it ends: what came after would stand behind a gap.
      def check_room
        @room.check
      rescue Errno::ENOSPC => error
        raise NoRoom, "#{error.message}; what was read before is kept, and the rest is read when it is given again"
      end

      def summary(seconds)
        Summary.new(
          @results.size, @results.sum(&:lines), @results.sum(&:events), @results.sum(&:bytes), seconds,
          @results.sum(&:unread), @results.sum(&:known_lines), @results
        )
      end
    end
  end
end
