# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Brings the lines of an archive back into the database, as they were, and takes them out again.
    class Returning
      BATCH = 2000

      # What is written of a batch, see {Writer#write}.
      Part = Struct.new(:batch, :fresh_kinds, :fresh_templates, :packer, :source, :archive, :first_line) do
        def source_id = source.id

        def settle(_ids)
          source.add(lines: batch.size, events: batch.size)
          source.save!
          archive.update!(back_lines: archive.back_lines + batch.size)
        end
      end

      # @param archive [Archive]
      def initialize(archive)
        @archive = archive
      end

      # What was interrupted begins again: nothing may come back twice.
      def bring_back
        take_out
        @archive.update!(back_lines: 0, problem: nil)
        @packer = Packer.new
        @writer = Writer.new
        @archive.content.each_line(@archive.bytes).each_slice(BATCH) { |lines| write(lines) }
        Archive.where(id: @archive.id, state: "coming").update_all(state: "back")
      rescue Error, KeyError, ArgumentError, Oj::ParseError => error
        take_out
        @archive.update!(state: "away", back_lines: 0, problem: error.message.lines.first.to_s.strip)
      end

      def take_away
        take_out
        @archive.update!(state: "away", back_lines: 0)
      end

      private

      def take_out = Removal.remove(Source.where(archive_id: @archive.id).ids)

      def write(lines)
        by_source = lines.map { |line| Northdrift::Archive::Line.read(Oj.load(line, mode: :strict)) }.group_by(&:last)
        parts = by_source.map do |name, events|
          batch = Batch.new
          # In the order of the source; the counts by block rely on it.
          events.map(&:first).sort_by(&:line_number).each do |event|
            @packer.pack(event, batch)
            batch.tell(logbook.read(event, name))
          end
          Part.new(batch, [], [], @packer, source(name), @archive, 0)
        end
        # What is new to the packer's numbers goes with the first.
        parts.first.fresh_kinds = @packer.fresh_kinds
        parts.first.fresh_templates = @packer.fresh_templates
        @writer.write(parts)
        Database.give_way
      end

      def source(name)
        Source.find_or_create_by!(archive_id: @archive.id, name: name) do |source|
          source.assign_attributes(reference_us: now_us, created_us: now_us, complete: true)
        end
      end

      def logbook = @logbook ||= LogbookSwitch.catalogue

      def now_us = Clock.now_us
    end
  end
end
