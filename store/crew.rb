# frozen_string_literal: true

module Northdrift
  module Store
    # Processes that work on pieces of a question's window. A query holds Ruby's lock while SQLite works: here it holds up
    # nobody but who asked, all cores are used, and a person who leaves stops it at the next piece.
    class Crew
      SIZE = 2
      LENGTH = "N"

      # A process of the crew ended.
      Lost = Class.new(Error)

      # One process, with what it was given last not yet answered, or nothing.
      Hand = Struct.new(:pid, :input, :output) do
        def give(job)
          data = Marshal.dump(job)
          input.write([data.bytesize].pack(LENGTH), data)
        end

        def take
          head = output.read(4) or raise Lost, "a counting process ended; ask again"
          answer = Marshal.load(output.read(head.unpack1(LENGTH))) # rubocop:disable Security/MarshalLoad -- our own process wrote it
          answer.is_a?(StandardError) ? raise(answer) : answer
        end
      end

      class << self
        # @return [Crew, nil] that of this process
        attr_accessor :current
      end

      # To be called before the process starts threads or opens the database.
      # @param dir [String] data folder
      def initialize(dir)
        @free = Queue.new
        @hands = []
        SIZE.times { @hands << start(dir) }
        @hands.each { |hand| @free << hand }
      end

      # @param spec [Hash] see {Question#spec}
      # @param task [Symbol] public method of {Question} that takes a window and these options
      # @param options [Hash]
      # @param windows [Array<Array(Integer, Integer)>]
      # @yieldparam result [Object] of one window, in no certain order; what the block raises stops the work
      def work(spec, task, options, windows)
        left = windows.dup
        busy = []
        until left.empty? && busy.empty?
          while !left.empty? && (hand = free(busy.empty?))
            busy << hand.tap { |one| one.give([spec, task, left.shift, options]) }
          end
          ready = readable(busy)
          busy.delete(ready)
          result = answer(ready)
          yield result
        end
      rescue Errno::EPIPE
        raise Lost, "a counting process ended; ask again"
      ensure
        # What they are at is of no use any more, but has to be taken before they can get something else.
        busy&.each { |hand| Thread.new { answer(hand) } }
      end

      private

      def free(wait)
        @free.pop(!wait)
      rescue ThreadError
        nil
      end

      def readable(hands)
        ready = IO.select(hands.map(&:output)).dig(0, 0)
        hands.find { |hand| hand.output.equal?(ready) }
      end

      def answer(hand)
        hand.take
      ensure
        @free << hand
      end

      def start(dir)
        job_reader, job_writer = IO.pipe(binmode: true)
        answer_reader, answer_writer = IO.pipe(binmode: true)
        others = @hands.flat_map { |hand| [hand.input, hand.output] }
        pid = fork do
          [job_writer, answer_reader, *others].each(&:close)
          serve(dir, job_reader, answer_writer)
        end
        [job_reader, answer_writer].each(&:close)
        Hand.new(pid, job_writer, answer_reader)
      end

      # Runs until the other end is closed, however that comes about.
      def serve(dir, input, output)
        %w[TERM INT].each { |signal| trap(signal) { exit!(0) } }
        Process.setproctitle("northdrift: counting")
        Database.open(dir, mapped: true)
        while (head = input.read(4))
          job = Marshal.load(input.read(head.unpack1(LENGTH))) # rubocop:disable Security/MarshalLoad -- our own process wrote it
          data = Marshal.dump(result(*job))
          output.write([data.bytesize].pack(LENGTH), data)
        end
        exit!(0)
      rescue Errno::EPIPE
        exit!(0)
      end

      def result(spec, task, window, options)
        # A plan names kinds, templates and sources: it is made anew once anything was written.
        version = Database.value("PRAGMA data_version")
        unless @question && @spec == spec && @version == version
          @question = Question.new(**spec)
          @version = version
          @spec = spec
        end
        @question.public_send(task, *window, **options)
      rescue StandardError => error
        Error.new(error.message)
      end
    end
  end
end
