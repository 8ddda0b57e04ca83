# frozen_string_literal: true

require "rubygems/package"

module Northdrift
  module Intake
    # The files of a tar archive, with their whole names: those that are too long for a header stand in an entry of
    # their own before it (GNU tar manual, "Basic Tar Format", type L; POSIX.1-2001, pax, "pax Extended Header", keyword
    # path).
    class Tar
      GNU_NAME = "L"
      EXTENDED = "x"
      GLOBAL = "g"
      # A plain file, by POSIX and by what was there before it.
      FILES = ["0", "\0"].freeze
      # No name that a program gave is longer.
      LONGEST = 1 << 16
      RECORD = /(\d+) ([^=\n]+)=/

      # What an archive says to have is there, or it was cut; what there is of a file until then can be read.
      class Whole
        # @return [Boolean] whether it is a file that is read
        attr_writer :file

        def initialize(input)
          @input = input
          @file = false
        end

        def pos = @input.pos
        def eof? = @input.eof?

        # @raise [Parts::Damaged]
        def read(size)
          return "" if size.zero?

          data = @input.read(size)
          data && (@file || data.bytesize == size) ? data : raise(Parts::Damaged, "it ends too early")
        end
      end

      # @param input [Parts::Rewound] at the start of the archive
      def initialize(input)
        @input = Whole.new(input)
      end

      # @yieldparam name [String]
      # @yieldparam entry [Gem::Package::TarReader::Entry]
      def each
        long = nil
        Gem::Package::TarReader.new(@input).each do |entry|
          case entry.header.typeflag
          when GNU_NAME then long = told(entry).delete_suffix("\0")
          when EXTENDED then long = path(told(entry)) || long
          when GLOBAL then next
          else
            name = long || entry.full_name
            long = nil
            inside { yield name, entry } if FILES.include?(entry.header.typeflag)
          end
        end
      rescue Gem::Package::Error => error
        raise Parts::Damaged, error.message
      end

      private

      def inside
        @input.file = true
        yield
      ensure
        @input.file = false
      end

      def told(entry)
        raise Parts::Damaged, "a name of #{entry.header.size} bytes" if entry.header.size > LONGEST

        entry.read.to_s.b
      end

      # Records are their own length in bytes, a blank, keyword=value and a line feed.
      def path(records)
        at = 0
        found = nil
        while (match = RECORD.match(records, at)) && match.begin(0) == at && match[1].to_i > match[0].bytesize
          found = records[match.end(0)...(at + match[1].to_i - 1)] if match[2] == "path"
          at += match[1].to_i
        end
        found
      end
    end
  end
end
