# frozen_string_literal: true

require "openssl"

module Northdrift
  module Intake
    # The reading of one source: where it stands, what of it is in events, and the digest of that.
    class SourceReading
      # The times from which archives count, 1970 and 1980, and a day for the zone.
      EPOCHS_US = Time.utc(1980, 1, 2).to_i * 1_000_000

      # @return [String]
      attr_reader :name
      # @return [Segments]
      attr_reader :segments

      # @param part [Parts::Part]
      # @param place [String, nil] the machine of lines that name none, where no person says it
      # @param ahead [Ahead] what of it is known already
      def initialize(part, ahead, fingerprint:, machine:, place:, zone:, encoding:, now_us:, import_id:)
        @name = part.name
        @rules = Store::IntakeRules.definition(now_us, noise: false)
        @already = ahead.entry
        @machine = machine
        @place = place
        @zone = zone
        @reference_us = reference(part.modified_us, now_us)
        @attributes = {
          name: part.name, machine: machine, zone: zone, encoding: encoding, reference_us: @reference_us,
          import_id: import_id, created_us: now_us, fingerprint: fingerprint
        }
        @digest = ahead.digest || OpenSSL::Digest.new("SHA256")
        @bytes = @already&.bytes || 0
        @lines_before = @lines = @already&.lines || 0
        @segments =
          Segments.new(
            ahead.input, Reading::Context.new(clock: Reading::Clock.new(zone: zone, reference_us: @reference_us)),
            offset: @bytes, header: Reading::Header.last(ahead.start, first: true), start: ahead.start
          )
        @unsettled = []
        @started = true
        @events = @unread = @undated = 0
        @readers = Hash.new(0)
      end

      # @return [Store::Source] made when the first batch is there, and again when that was not written after all
      def source
        return @source if @source&.persisted?

        @source = (@already&.id && Store::Source.find_by(id: @already.id)) || Store::Source.create!(@attributes)
      end

      # Keeps the bytes of a segment until they are in events.
      def read_ahead(segment) = @unsettled << segment.bytes

      # @param segment [Segments::Segment]
      # @return [SegmentReader::Task]
      def task(segment)
        start = @started
        @started = !segment.goes_on
        SegmentReader::Task.new(
          segment.bytes, segment.offset, start, segment.goes_on, @zone, @reference_us, @machine, @name, @rules,
          segment.header, segment.date_order, @machine ? nil : @place
        )
      end

      # @param result [SegmentReader::Result] the next one
      # @return [Integer] physical lines before the run of segments that it is of
      def lines_before(result)
        @lines_before.tap { |lines| @lines_before = lines + result.lines unless result.goes_on }
      end

      # Notes how far the source is in events; called within the transaction that writes them.
      # @param result [SegmentReader::Result]
      # @param lines_before [Integer] see {#lines_before}
      def settle(result, lines_before)
        hash_up_to(result.settled)
        @lines = lines_before + result.lines
        @events += result.batch.size
        result.readers.each { |reader, n| @readers[reader] += n }
        @unread = @readers[:plain]
        @undated += result.undated
        @called ||= result.place
        source.add(events: result.batch.size, readers: result.readers)
        source.update!(
          bytes: @bytes, lines: @lines, fingerprint: @attributes[:fingerprint], digest: @digest.dup.hexdigest
        )
      end

      # @param problem [String, nil]
      # @return [Importer::Result]
      def finish(problem)
        problem ||= @source&.reload&.problem # what was put aside
        @source&.update!(complete: true, problem: problem, unread: @source.unread + @unread)
        Importer::Result.new(
          @name, @lines - (@already&.lines || 0), @events, @bytes - (@already&.bytes || 0), @unread,
          @already&.lines || 0, @readers.dup, problem, @undated, @segments.date_order_in_doubt, @called
        )
      end

      # @return [Known::Entry] so that the same content is recognised when it comes again
      def entry
        Known::Entry.new(
          @source&.id || @already&.id, @name, @machine, @bytes, @lines, @digest.dup.hexdigest, @attributes[:fingerprint]
        )
      end

      private

      # What archives put for a file whose time they do not know is none.
      def reference(modified_us, now_us)
        modified_us && modified_us > EPOCHS_US ? [modified_us, now_us].min : now_us
      end

      def hash_up_to(offset)
        while @bytes < offset
          bytes = @unsettled.shift
          take = [offset - @bytes, bytes.bytesize].min
          @digest << bytes.byteslice(0, take)
          @bytes += take
          @unsettled.unshift(bytes.byteslice(take, bytes.bytesize)) if take < bytes.bytesize
        end
      end
    end
  end
end
