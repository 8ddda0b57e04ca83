# frozen_string_literal: true

module Northdrift
  module Store
    # When lines were, and what they have of some fields: a tenth of the work of reading the lines.
    class LineValues
      COLUMNS = "events.id, events.shift, events.kind_id, events.template_id, events.source_id"
      TEXT = %w[events.body events.extra events.spans].freeze
      # What stands neither in the text nor in the kind.
      OUTSIDE = Gathering::OUTSIDE.slice("pattern", "source").freeze

      # @param access [Access] the lines
      # @param kinds [Kinds]
      # @param fields [Array<String>]
      def initialize(access, kinds, fields)
        @access = access
        @kinds = kinds
        @fields = fields
        @outside = fields & OUTSIDE.keys
        @sources = Hash.new { |names, id| names[id] = Source.where(id: id).pick(:name) }
        @of_kinds = Hash.new { |known, id| known[id] = of_kind(@kinds[id]) }
      end

      # In the order of their ids.
      # @yieldparam id [Integer]
      # @yieldparam time_us [Integer]
      # @yieldparam values [Hash{String=>Object}] those that it has; one object for all lines of a kind, where no text
      #   tells any of them
      def each
        Scan.each(@access, "#{COLUMNS}, #{text}") do |id, shift, kind_id, template_id, source_id, *text|
          yield id, EventId.micros(id) + shift, values(kind_id, [id, kind_id, template_id, source_id], text)
        end
      end

      private

      # @return [Array(Hash, Array<String>)] what all lines of a kind have, and the fields that their texts may have
      def of_kind(kind)
        same = kind.constants.slice(*@fields).freeze
        loose = kind.index(Packer::LOOSE)
        [same, (@fields - same.keys - @outside).select { |field| loose || kind.index(field) }]
      end

      # Texts are read of the kinds alone in which there is something to find.
      def text
        kinds = @kinds.select { |kind| @of_kinds[kind.id].last.any? }.map(&:id)
        return Gathering::NO_TEXT if kinds.empty?

        TEXT.map { |column| "CASE WHEN events.kind_id IN (#{kinds.join(',')}) THEN #{column} END" }.join(", ")
      end

      def values(kind_id, row, text)
        same, in_text = @of_kinds[kind_id]
        return same if in_text.empty? && @outside.empty?

        values = same.dup
        in_text.each { |field| values[field] = Spans.field(@kinds[kind_id], field, *text) }
        @outside.each { |field| values[field] = OUTSIDE.fetch(field).call(row, @sources) }
        values
      end
    end
  end
end
