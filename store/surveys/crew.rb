# frozen_string_literal: true

module Northdrift
  module Store
    # Processes that work on pieces of a question's window. A query holds Ruby's lock while SQLite works: here it holds
    # up nobody but who asked, all cores are used, and a person who leaves stops it at the next piece.
    class Crew
      SIZE = 2
      LENGTH = "N"
      # Questions whose plans are kept.
      PLANS = 8

      # A process of the crew ended.
      Lost = Class.new(Error)

      # A piece of work: a public method of {Question}, with the window that it takes and its options.
      # @!attribute spec [Hash] see {Question#spec}
      # @!attribute task [Symbol]
      # @!attribute window [Array(Integer, Integer)] microseconds UTC
      # @!attribute options [Hash]
      Job = Struct.new(:spec, :task, :window, :options)

      # One process, with what it was given last not yet answered, or nothing.
      Hand = Struct.new(:pid, :input, :output) do
        def give(job)
          data = Marshal.dump(job)
          input.write([data.bytesize].pack(LENGTH), data)
        end

        def take
          answer = Marshal.load(whole(whole(4).unpack1(LENGTH))) # rubocop:disable Security/MarshalLoad -- our own process wrote it
          answer.is_a?(StandardError) ? raise(answer) : answer
        end

        private

        # It may have ended in the midst of an answer.
        def whole(size)
          bytes = output.read(size)
          bytes&.bytesize == size ? bytes : raise(Lost)
        end
      end

      class << self
        # @return [Crew, nil] that of this process, which is set once, before there are threads
        attr_accessor :current # rubocop:disable ThreadSafety/ClassAndModuleAttributes
        # @return [#call, nil] what is done once the crew is lost; set with it
        attr_accessor :on_loss # rubocop:disable ThreadSafety/ClassAndModuleAttributes

        # Does jobs with the crew where there is one, and else here. What a lost crew leaves undone is done here: who
        # asked does not notice but for the time it takes.
        # @param jobs [Array<Job>]
        # @yieldparam result [Object] in no certain order; what the block raises stops the work
        # @yieldparam job [Job]
        def each_result(jobs, &block)
          questions = Hash.new { |known, spec| known[spec] = Question.new(**spec) }
          undone(jobs, &block).each do |job|
            yield(questions[job.spec].public_send(job.task, *job.window, **job.options), job)
          end
        end

        private

        # @return [Enumerable<Job>] those that no crew did
        def undone(jobs)
          crew = current or return jobs
          left = Set.new.compare_by_identity.merge(jobs)
          crew.work(jobs) do |result, job|
            left.delete(job)
            yield result, job
          end
          left
        rescue Lost
          self.current = nil
          on_loss&.call
          left
        end
      end

      # To be called before the process starts threads or opens the database.
      # @param dir [String] data folder
      def initialize(dir)
        @free = Queue.new
        @hands = []
        SIZE.times { @hands << start(dir) }
        @hands.each { |hand| @free << hand }
      end

      # @param jobs [Array<Job>]
      # @yieldparam result [Object] of one job, in no certain order; what the block raises stops the work
      # @yieldparam job [Job]
      def work(jobs)
        left = jobs.dup
        busy = {}
        until left.empty? && busy.empty?
          while !left.empty? && (hand = free(busy.empty?))
            busy[hand] = left.shift
            hand.give(busy[hand])
          end
          ready = readable(busy.keys)
          job = busy.delete(ready)
          yield answer(ready), job
        end
      rescue Errno::EPIPE
        raise Lost
      ensure
        # What they are at is of no use any more, but has to be taken before they can get something else.
        busy&.each_key { |hand| Thread.new { answer(hand) }.report_on_exception = false }
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
          data = Marshal.dump(result(job))
          output.write([data.bytesize].pack(LENGTH), data)
        end
        exit!(0)
      rescue Errno::EPIPE
        exit!(0)
      end

      def result(job)
        Sight.within(job.spec[:sight]) { outcome(job) }
      rescue StandardError => error
        Error.new(error.message)
      end

      def outcome(job)
        # A plan names kinds, templates and sources: it is made anew once anything was written, or is seen by another.
        version = [Database.version, Sight.current]
        @questions = nil if @version != version
        @version = version
        @questions = {} if @questions.nil? || @questions.size >= PLANS
        (@questions[job.spec] ||= Question.new(**job.spec)).public_send(job.task, *job.window, **job.options)
      end
    end
  end
end
