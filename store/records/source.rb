# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Where lines came in: a file, a part of an archive, standard input, a sender.
    class Source < Record
      self.table_name = "sources"

      # @return [Hash{String=>Integer}] events by reader
      def by_reader = Oj.load(readers, mode: :strict)

      # Counts what is written of it; it is not saved by that.
      # @param readers [Hash{Symbol=>Integer}]
      def add(lines: 0, events: 0, unread: 0, repeated: 0, readers: {})
        self.lines += lines
        self.events += events
        self.unread += unread
        self.repeated += repeated
        return if readers.empty?

        self.readers =
          Oj.dump(
            by_reader.merge(readers.transform_keys(&:to_s)) { |_, had, more| had + more }, mode: :strict
          )
      end
    end
  end
end
