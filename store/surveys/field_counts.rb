# frozen_string_literal: true

module Northdrift
  module Store
    # Counts events by field and value.
    class FieldCounts
      COLUMNS =
        "events.kind_id, events.id & #{EventId::SEVERITY_MASK}, events.source_id, events.body, events.extra, " \
        "events.spans".freeze

      # @param access [Access] the rows
      # @param kinds [Kinds]
      def initialize(access, kinds)
        @access = access
        @kinds = kinds
      end

      # @return [Array(Integer, Hash{String=>Hash{String=>Integer}})] events, and events by field and value, each value
      #   as it stands in the text
      def count
        @fields = Hash.new { |fields, name| fields[name] = Hash.new(0) }
        kinds = Hash.new(0)
        severities = Array.new(9, 0)
        sources = Hash.new(0)
        counters = {}
        Scan.each(@access, COLUMNS) do |kind_id, severity, source_id, body, extra, spans|
          kinds[kind_id] += 1
          severities[severity] += 1
          sources[source_id] += 1
          counting = counters[kind_id] ||= counters_of(@kinds[kind_id])
          next loose(kind_id, body, extra, spans) unless counting

          tally(counting, spans.unpack(Spans::NUMBERS), body, extra)
        end
        constants(kinds, severities, sources)
        # Without the default block, which cannot be sent to another process.
        [kinds.values.sum, @fields.transform_values(&:itself)]
      end

      private

      def counters_of(kind) = kind.index(Packer::LOOSE) ? nil : kind.layout.map { |name, _| @fields[name] }

      def tally(counters, places, body, extra)
        end_of_body = body.bytesize
        at = 0
        counters.each do |values|
          start = places[at += 2]
          size = places[at + 1]
          values[
            start >= end_of_body && size.positive? ? extra.byteslice(start - end_of_body,
                                                                     size) : body.byteslice(start, size)
          ] += 1
        end
      end

      def loose(kind_id, body, extra, spans)
        Spans.fields(@kinds[kind_id], body, extra, spans).each { |name, value| @fields[name][value.to_s] += 1 }
      end

      # What all lines of a kind, a severity or a source share.
      def constants(kinds, severities, sources)
        kinds.each do |id, n|
          @kinds[id].constants.each do |name, value|
            Array(value).each { |one| @fields[name][one.to_s] += n } unless @kinds[id].index(name)
          end
        end
        severities.each_with_index { |n, code| @fields["severity"][Severity.name(code)] += n if n.positive? }
        names = Source.where(id: sources.keys).pluck(:id, :name).to_h
        sources.each { |id, n| @fields["source"][names[id] || "?"] += n }
      end
    end
  end
end
