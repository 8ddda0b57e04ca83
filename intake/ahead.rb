# frozen_string_literal: true

require "openssl"
require "stringio"
require "tempfile"

module Northdrift
  module Intake
    # Reads a part ahead to see whether it starts with content that is known, and puts back what is not.
    class Ahead
      CHUNK = 1 << 18

      # @return [Known::Entry, nil] the longest known content that the part starts with
      attr_reader :entry
      # @return [OpenSSL::Digest, nil] of that content
      attr_reader :digest
      # @return [#read] the part from there on
      attr_reader :input

      # @return [String] the first bytes of the part, where some of it is known
      attr_reader :start

      # @param input [#read] at its start
      # @param candidates [Array<Known::Entry>]
      def initialize(input, candidates)
        @input = input
        @start = ""
        return if candidates.empty?

        @spool = Tempfile.create("northdrift-ahead", binmode: true).tap { |file| File.unlink(file.path) }
        digest = OpenSSL::Digest.new("SHA256")
        candidates.sort_by(&:bytes).each do |candidate|
          break unless read_to(candidate.bytes, digest)

          if digest.hexdigest == candidate.digest && !(candidate.whole && more?)
            @entry = candidate
            @digest = digest.dup
          end
        end
        @start = @spool.pread([Reading::Header::REACH, @entry.bytes].min, 0) if @entry
        @spool.seek(@entry ? @entry.bytes : 0)
        @input = Chain.new([@spool, input])
      end

      # One stream after another.
      class Chain
        def initialize(streams) = @streams = streams

        def read(size)
          while @streams.any?
            data = @streams.first.read(size)
            return data if data && !data.empty?

            @streams.shift
          end
        end
      end

      private

      # @return [Boolean] whether there is anything behind what was read
      def more?
        data = @input.read(1)
        return false if data.nil? || data.empty?

        @input = Chain.new([StringIO.new(data), @input])
        true
      end

      # @return [Boolean] whether there was so much
      def read_to(bytes, digest)
        while (missing = bytes - @spool.pos).positive?
          data = @input.read([missing, CHUNK].min) or return false
          @spool.write(data)
          digest << data
        end
        true
      end
    end
  end
end
