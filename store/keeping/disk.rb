# frozen_string_literal: true

require "open3"

module Northdrift
  module Store
    # Room on the disk that holds a folder, in bytes.
    # @!attribute free [Integer] what can still be written
    # @!attribute size [Integer]
    Disk = Struct.new(:free, :size) do
      # @param dir [String]
      # @return [Disk, nil] as `df -P` tells it (POSIX.1-2017, df); nil when it cannot say
      def self.of(dir)
        text, _, status = Open3.capture3("df", "-Pk", dir)
        return unless status.success?

        columns = text.lines.last.split
        new(columns[-3].to_i * 1024, columns[-5].to_i * 1024)
      rescue SystemCallError
        nil
      end
    end
  end
end
