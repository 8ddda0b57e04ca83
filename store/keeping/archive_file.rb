# frozen_string_literal: true

require "fileutils"
require "zlib"

module Northdrift
  module Store
    # A compressed file of NDJSON. Each batch is a gzip member of its own, which any gzip reader takes for one text (RFC
    # 1952, section 2.2): what was written after the last commit can be cut off again.
    class ArchiveFile
      # @param path [String]
      def initialize(path)
        @path = path
      end

      # Appends lines behind those that are known to be good, and waits until they are on disk.
      # @param good [Integer] bytes of the file that were committed
      # @param lines [Array<String>] JSON, without line ends
      # @return [Integer] bytes of the file afterwards
      def append(good, lines)
        FileUtils.mkdir_p(File.dirname(@path))
        File.open(@path, File::RDWR | File::CREAT | File::BINARY, 0o600) do |file|
          raise Error, "the archive #{@path} is shorter than it was: #{file.size} of #{good} bytes" if file.size < good

          file.truncate(good)
          file.seek(good)
          file.write(Zlib.gzip("#{lines.join("\n")}\n"))
          file.fsync
          file.pos
        end
      end

      # @param good [Integer] bytes of the file that were committed
      # @yieldparam line [String] without one, an enumerator is returned
      # @raise [Error] when the file cannot be read
      def each_line(good, &block)
        return enum_for(:each_line, good) unless block

        File.open(@path, "rb") do |file|
          while file.pos < good
            reader = Zlib::GzipReader.new(file)
            reader.each_line { |line| yield(line.chomp) }
            unused = reader.unused
            reader.finish
            file.pos -= unused.bytesize if unused
          end
        end
      rescue SystemCallError, Zlib::Error => error
        raise Error, "the archive #{@path} cannot be read: #{error.message}"
      end
    end
  end
end
