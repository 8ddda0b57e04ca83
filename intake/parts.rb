# frozen_string_literal: true

require "tempfile"
require "zip"
require "zlib"

module Northdrift
  module Intake
    # Finds the pieces of text in what a person hands over: files, folders, standard input, and what is packed in gzip,
    # zip and tar, however they are nested. Everything is read as a stream.
    class Parts
      # One piece of text, or what stands in its way.
      # @!attribute name [String] path, with the path inside an archive after "!"
      # @!attribute modified_us [Integer, nil]
      # @!attribute input [#read, nil] IO at its start
      # @!attribute problem [String, nil]
      Part = Struct.new(:name, :modified_us, :input, :problem)

      # The content of a container turned out to be unreadable. Its message is for the person.
      Damaged = Class.new(Error)

      DEEPEST = 4
      # A container that swells so much is taken for a trap.
      BOMB_BYTES = 64 << 20
      BOMB_RATIO = 300

      # @param paths [Array<String>] files and folders; "-" is standard input
      # @param stdin [IO]
      # @param most [Numeric] bytes that all archives together may unpack to
      def initialize(paths, stdin: $stdin, most: Float::INFINITY)
        @paths = paths
        @stdin = stdin
        @budget = Budget.new(most)
      end

      # @yieldparam part [Part]
      def each(&block)
        @paths.each { |path| path == "-" ? stream("(standard input)", @stdin, nil, 0, &block) : path(path, &block) }
      end

      private

      # @param above [Array<Array(Integer, Integer)>] device and inode of each folder that it stands in
      def path(path, above = [], &)
        return folder(path, above, &) if File.directory?(path)

        name = Text.display(path)
        return yield Part.new(name, nil, nil, "there is no such file") unless File.exist?(path)
        # Who names a pipe has somebody write into it; nobody may write into one that happens to lie in a folder.
        unless File.file?(path) || (File.pipe?(path) && above.empty?)
          return yield Part.new(name, nil, nil, "not a regular file")
        end

        File.open(path, "rb") { |file| stream(name, file, (file.mtime.to_r * 1_000_000).to_i, 0, &) }
      rescue SystemCallError => error
        yield Part.new(Text.display(path), nil, nil, "cannot be read: #{error.message.sub(/ @ .*/, '')}")
      end

      def folder(path, above, &block)
        stat = File.stat(path)
        here = [stat.dev, stat.ino]
        if above.include?(here)
          return yield Part.new(Text.display(path), nil, nil, "a link to a folder that it stands in")
        end

        Dir.children(path).sort.each { |name| path(File.join(path, name), [*above, here], &block) }
      end

      def stream(name, io, modified_us, depth, &)
        input = Rewound.new(io)
        container = Magic.container(input.peek(Magic::PROBE))
        return yield Part.new(name, modified_us, input) unless container
        return yield Part.new(name, modified_us, nil, "packed more than #{DEEPEST} deep") if depth >= DEEPEST

        send(container, name, input, modified_us, depth + 1, &)
      rescue Damaged, Zip::Error, Zlib::Error => error
        yield Part.new(name, modified_us, nil, "#{['damaged', container].compact.join(' ')}: #{error.message}")
      end

      def gzip(name, input, modified_us, depth, &)
        stream(name.delete_suffix(".gz").sub(/\.tgz\z/, ".tar"), Gunzip.new(input, @budget), modified_us, depth, &)
      end

      def tar(name, input, _modified_us, depth, &block)
        Tar
          .new(input)
          .each do |inside, entry|
            stream("#{name}!#{Text.display(inside)}", entry, entry.header.mtime * 1_000_000, depth, &block)
          end
      end

      # The directory of a zip file is at its end.
      def zip(name, input, _modified_us, depth, &block)
        Tempfile.create("northdrift-zip", binmode: true) do |file|
          IO.copy_stream(input, file)
          file.flush
          Zip::File.open(file.path) { |archive| zip_entries(name, archive, depth, &block) }
        end
      end

      def zip_entries(name, archive, depth, &block)
        archive.each do |entry|
          next unless entry.file?

          full = "#{name}!#{Text.display(entry.name)}"
          next yield Part.new(full, nil, nil, "encrypted") if entry.encrypted?

          limited = Limited.new(entry.get_input_stream, entry.compressed_size, @budget)
          stream(full, limited, entry.time && (entry.time.to_r * 1_000_000).to_i, depth, &block)
        end
      end

      # What may be unpacked still.
      class Budget
        # @param most [Numeric] bytes
        def initialize(most)
          @most = @left = most
        end

        # @param bytes [Integer] that were unpacked
        # @raise [Damaged] when they are too many
        def take(bytes)
          @left -= bytes
          return unless @left.negative?

          raise Damaged, "it unpacks to more than #{@most / 1_000_000} MB, the limit set here (northdrift keep)"
        end
      end

      # Checks that what comes out of a container keeps within reason.
      module Swelling
        def check_swelling(packed, unpacked)
          return if unpacked < BOMB_BYTES || unpacked < packed * BOMB_RATIO

          raise Damaged,
                "it unpacks to more than #{BOMB_RATIO} times its size; this looks like a trap, and was stopped at " \
                "#{unpacked >> 20} MiB"
        end
      end

      # An entry of known packed size.
      class Limited
        include Swelling

        def initialize(io, packed, budget)
          @io = io
          @packed = packed
          @budget = budget
          @unpacked = 0
        end

        def read(size)
          data = @io.read(size) or return
          check_swelling(@packed, @unpacked += data.bytesize)
          @budget.take(data.bytesize)
          data.b
        end
      end

      # A gzip stream (RFC 1952), of one or more members.
      class Gunzip
        include Swelling

        CHUNK = 1 << 16

        # @param budget [Budget]
        def initialize(input, budget)
          @input = input
          @budget = budget
          @inflate = Zlib::Inflate.new(Zlib::MAX_WBITS + 16)
          @buffer = "".b
          @packed = @unpacked = 0
          @open = false
        end

        # @return [String, nil] up to size bytes
        # @raise [Damaged] after all that could be unpacked
        def read(size)
          fill while @buffer.empty? && !@ended
          return @buffer.slice!(0, size) unless @buffer.empty?

          raise @failure if @failure
        end

        private

        def fill
          packed = @input.read(CHUNK)
          return finish if packed.nil?

          before = @unpacked
          @packed += packed.bytesize
          inflate(packed)
          check_swelling(@packed, @unpacked)
          @budget.take(@unpacked - before)
        rescue Zlib::Error => error
          add(@inflate.flush_next_out)
          fail_with(@unpacked.zero? ? error.message : "after #{@unpacked} bytes: #{error.message}")
        end

        def fail_with(message)
          @ended = true
          @failure = Damaged.new(message)
        end

        def inflate(packed)
          until packed.empty?
            @open = true
            before = @inflate.total_in
            add(@inflate.inflate(packed))
            return unless @inflate.finished?

            packed = packed.byteslice(@inflate.total_in - before, packed.bytesize)
            @inflate.reset
            @open = false
            # Members may be padded with zeros, as on tapes.
            packed = packed.sub(/\A\0+/n, "")
          end
        end

        def add(data)
          @unpacked += data.bytesize
          @buffer << data
        end

        def finish
          @ended = true
          fail_with("it ends too early; #{@unpacked} bytes could be read") if @open
        end
      end

      # Lets the first bytes be looked at before they are read. A failure is told after what came before it.
      class Rewound
        attr_reader :pos

        def initialize(io)
          @io = io
          @buffer = "".b
          @pos = 0
        end

        # @return [String] up to size bytes, which stay to be read
        def peek(size)
          while @buffer.bytesize < size && (data = further(size - @buffer.bytesize, @buffer.empty?))
            @buffer << data
          end
          @buffer.byteslice(0, size)
        end

        # @return [String, nil]
        def read(size = nil, out = nil)
          return read_all unless size

          data = some(size)
          data && out ? out.replace(data) : data
        end

        def eof? = peek(1).empty?

        private

        # What is packed comes in pieces of any size.
        def some(size)
          data = @buffer.slice!(0, size).b
          while data.bytesize < size && (more = further(size - data.bytesize, data.empty?))
            data << more
          end
          return if data.empty? && size.positive?

          @pos += data.bytesize
          data
        end

        # @param first [Boolean] whether nothing was read before that must be handed out
        # @return [String, nil] nil at the end
        def further(size, first)
          raise @failure if @failure && first
          return if @failure

          data = @io.read(size)
          data unless data.nil? || data.empty?
        rescue Error, Zlib::Error, Zip::Error, SystemCallError, EOFError => error
          raise if first

          @failure = error
          nil
        end

        def read_all
          all = "".b
          while (data = read(1 << 16))
            all << data
          end
          all
        end
      end
    end
  end
end
