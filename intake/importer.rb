# frozen_string_literal: true

module Northdrift
  module Intake
    # Brings files into the database: a {PartReader} in a process of its own reads, this one writes. Each batch commits
    # together with how far its source has been read, so that an import that was stopped at any moment goes on there.
    class Importer
      # What an import came to.
      # @!attribute results [Array<PartReader::Result>] one for each part
      # @!attribute duplicates [Integer] lines that were there already
      Summary = Struct.new(:files, :lines, :events, :bytes, :seconds, :unread, :duplicates, :results)

      # The person stopped it.
      Cancelled = Class.new(Error)

      # @param zone [String] IANA zone of stamps that have none
      # @param machine [String, #call, nil] the machine of lines that name none, see {PartReader}
      # @param name [String, nil] what the file is called where it came from; parts of an archive keep their own after it
      # @param clock [#call] current time in microseconds
      # @raise [Error] when the zone is not known
      def initialize(zone: "UTC", machine: nil, import_id: nil, name: nil, clock: -> { (Time.now.to_r * 1_000_000).to_i })
        TZInfo::Timezone.get(zone)
        @zone = zone
        @machine = machine
        @import_id = import_id
        @rename = name
        @results = []
        @clock = clock
        @writer = Store::Writer.new
      rescue TZInfo::InvalidTimezoneIdentifier
        raise Error, "there is no time zone “#{zone}”; zones have names like Europe/Oslo or UTC"
      end

      # @param parts [Parts]
      # @yieldparam bytes [Integer] read so far, of the current part's text
      # @yieldparam name [String] of the current part
      # @return [Summary]
      # @raise [Cancelled] when the block raises it; what was written stays
      def import(parts, &progress)
        started = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        @results = []
        @total = 0
        known = Known.new(Store::Source.pluck(:id, :name, :machine, :bytes, :lines, :digest, :fingerprint).map { |row| Known::Entry.new(*row) })
        now_us = @clock.call
        work = ->(emit) { PartReader.new(known: known, zone: @zone, machine: @machine, now_us: now_us, rename: @rename, &emit).read(parts) }
        Fork.run(work) { |message| Collection.after { handle(*message, &progress) } }
        Store::Database.checkpoint
        summary(Process.clock_gettime(Process::CLOCK_MONOTONIC) - started)
      end

      # @return [Array<PartReader::Result>] of the parts that have ended
      attr_reader :results

      private

      def handle(type, *data, &progress)
        case type
        when :part then begin_part(*data)
        when :batch then write(*data, &progress)
        when :done then end_part(*data)
        end
      end

      def begin_part(attributes, id)
        @source = (id && Store::Source.find_by(id: id)) || Store::Source.new(attributes.merge(created_us: @clock.call, import_id: @import_id))
        @name = attributes[:name]
        @counted = 0
        @counted_unread = 0
      end

      def write(batch, fresh_kinds, position)
        unless batch.size.zero? && fresh_kinds.empty?
          @source.save! unless @source.persisted?
          @writer.write(batch, fresh_kinds, source_id: @source.id, packer: :reader) do
            @source.update!(bytes: position.bytes, lines: position.lines, digest: position.digest, events: @source.events + batch.size)
          end
        end
        @total += batch.bytes
        yield @total, @name if block_given?
      end

      def end_part(result)
        @results << result
        return unless @source && result.name == @name && @source.persisted?

        @source.update!(complete: true, problem: result.problem, unread: @source.unread + result.unread)
        @source = nil
      end

      def summary(seconds)
        Summary.new(@results.size, @results.sum(&:lines), @results.sum(&:events), @results.sum(&:bytes), seconds, @results.sum(&:unread),
                    @results.sum(&:known_lines), @results)
      end
    end
  end
end
