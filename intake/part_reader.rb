# frozen_string_literal: true

require "digest"

module Northdrift
  module Intake
    # Reads one part after another into rows, and says what it does in messages:
    #
    #     [:part, attributes, id]               a part begins; attributes of its {Store::Source}, or the id of the one
    #                                           that it goes on with
    #     [:batch, batch, fresh kinds, position]
    #     [:done, result]                       the part has ended; result is a {Result}
    #
    # Needs no database, so that it can work in a process of its own.
    class PartReader
      CHUNK = 1 << 18
      ROWS = 20_000
      ROW_BYTES = 8 << 20

      Position = Struct.new(:bytes, :lines, :digest)
      # What came of one part. Lines and bytes count what was read now; `known_lines` were there already.
      Result = Struct.new(:name, :lines, :events, :bytes, :unread, :known_lines, :readers, :problem)

      # @param known [Known]
      # @param zone [String]
      # @param machine [String, #call, nil] of lines that name none; called with a part's name when it differs by part
      # @param now_us [Integer]
      # @param rename [String, nil] stands for the path of the file
      def initialize(known:, zone:, machine:, now_us:, rename: nil, &emit)
        @known = known
        @zone = zone
        @machine_of = machine
        @now_us = now_us
        @rename = rename
        @emit = emit
        @packer = Store::Packer.new
      end

      # @param parts [Parts]
      def read(parts) = parts.each { |part| read_part(part) }

      private

      def read_part(part)
        part.name = @rename + part.name[/!.*/m].to_s if @rename
        return finish(empty_result(part.name, part.problem)) if part.problem

        @machine = @machine_of.respond_to?(:call) ? @machine_of.call(part.name) : @machine_of
        probe = part.input.peek(Magic::PROBE)
        return finish(empty_result(part.name, "empty: there is nothing in it")) if probe.empty?
        return finish(empty_result(part.name, Magic.not_text(probe))) if Magic.not_text(probe)

        mark, encoding = Magic.bom(probe)
        part.input = Parts::Rewound.new(Decoder.new(part.input, mark, encoding)) if mark
        content(part, mark ? encoding.name : "UTF-8")
      rescue Parts::Damaged => error
        finish(empty_result(part.name, error.message))
      end

      def content(part, encoding)
        head = part.input.peek(Known::HEAD)
        input = part.input
        candidates = @known.candidates(head, part.name, @machine)
        if candidates.any?
          ahead = Ahead.new(input, candidates)
          input = ahead.input
        end
        already = ahead&.entry
        reference = [part.modified_us || @now_us, @now_us].min
        attributes = { name: part.name, machine: @machine, zone: @zone, encoding: encoding, reference_us: reference,
                       fingerprint: Known.fingerprint(head) }
        @emit.call([:part, attributes, already&.id])
        start(part.name, already, ahead&.digest || Digest::SHA256.new, reference)
        pump(input)
        @known.add(Known::Entry.new(nil, part.name, @machine, @hashed, @records.settled_lines, @digest.hexdigest, attributes[:fingerprint]))
        finish(result(part.name))
      end

      def start(name, already, digest, reference)
        context = Reading::Context.new(clock: Reading::Clock.new(zone: @zone, reference_us: reference), machine: @machine)
        lines = Reading::Lines.new(number: already&.lines || 0, offset: already&.bytes || 0)
        @records = Reading::Records.new(context, lines: lines) { |event| add(event) }
        @already = already
        @digest = digest
        @hashed = already&.bytes || 0
        @pending = []
        @batch = Store::Batch.new
        @events = @unread = 0
        @readers = Hash.new(0)
        @problem = nil
      end

      def pump(input)
        while (chunk = input.read(CHUNK))
          @pending << chunk
          @records.push(chunk)
        end
      rescue Parts::Damaged, Zlib::Error, Zip::Error, Gem::Package::Error, SystemCallError, EOFError => error
        @problem = "#{error.message}; what stands before was kept"
      ensure
        @records.finish
        flush
      end

      def add(event)
        @packer.pack(event, @batch)
        @events += 1
        @readers[event.reader] += 1
        @unread += 1 if event.reader == :plain
        flush if @batch.size >= ROWS || @batch.bytes >= ROW_BYTES
      end

      def flush
        settle(@records.settled)
        @emit.call([:batch, @batch, @packer.fresh_kinds, Position.new(@hashed, @records.settled_lines, @digest.dup.hexdigest)])
        @batch = Store::Batch.new
      end

      # Brings the digest up to what is in events.
      def settle(bytes)
        while @hashed < bytes
          text = @pending.shift
          take = [bytes - @hashed, text.bytesize].min
          @digest << text.byteslice(0, take)
          @hashed += take
          @pending.unshift(text.byteslice(take, text.bytesize)) if take < text.bytesize
        end
      end

      def result(name)
        Result.new(name, @records.settled_lines - (@already&.lines || 0), @events, @hashed - (@already&.bytes || 0), @unread,
                   @already&.lines || 0, @readers, @problem)
      end

      def empty_result(name, problem) = Result.new(name, 0, 0, 0, 0, 0, {}, problem)

      def finish(result)
        @emit.call([:done, result])
      end
    end
  end
end
