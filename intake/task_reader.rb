# frozen_string_literal: true

module Northdrift
  module Intake
    # Reads whatever a reading process is given. The kinds and templates of all its results go by the same numbers.
    class TaskReader
      def initialize
        packer = Store::Packer.new
        @readers = { SegmentReader::Task => SegmentReader.new(packer), Live::Bundle => Live::BundleReader.new(packer) }
      end

      # @param task [SegmentReader::Task, Live::Bundle]
      # @param caution [Caution, nil] has it read line by line
      # @return [SegmentReader::Result, Live::BundleReader::Read]
      def read(task, caution = nil) = @readers.fetch(task.class).read(task, caution)
    end
  end
end
