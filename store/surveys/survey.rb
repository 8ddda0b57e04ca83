# frozen_string_literal: true

module Northdrift
  module Store
    # Work over all events of a question, and of the one it is compared with, piece by piece in random order: what has
    # been taken in so far is at any time a fair sample, and can be shown.
    #
    # A survey says which task of {Question} does a piece (`task`), what it is given (`options`), and takes its results
    # in (`take`, with the side and the job).
    class Survey
      # Pieces of each side, so that the first answers come early; none smaller or larger than these.
      PIECES = 16
      SMALLEST = 8_000
      LARGEST = 100_000

      # @return [Question]
      attr_reader :question
      # @return [Question, nil] what it is compared with
      attr_reader :against
      # @return [Float] 0 to 1: how much of it has been looked at
      attr_reader :done

      # @param question [Question]
      # @param against [Question, nil]
      def initialize(question, against: nil)
        @question = question
        @against = against
        @done = 0.0
        @covered_us = Hash.new(0)
      end

      # @yield after each piece; what the block raises stops the work
      # @return [self]
      def count
        jobs = sides.flat_map { |side| jobs(side) }.shuffle(random: Random.new(1))
        count = 0
        Crew.each_result(jobs) do |result, job|
          side = @against && job.spec.equal?(@against.spec) ? :against : :question
          take(result, side, job)
          @covered_us[side] += job.window[1] - job.window[0]
          count += 1
          @done = count.fdiv(jobs.size)
          yield if block_given?
        end
        self
      end

      private

      def sides = [@question, @against].compact

      def jobs(question)
        events = Pieces.events(question.from_us, question.to_us)
        question.jobs(task, size: (events / PIECES).clamp(SMALLEST, LARGEST), **options(question))
      end

      # @return [Array(Integer, Integer)] microseconds of both sides that were looked at so far
      def times = %i[question against].map { |side| [@covered_us[side], 1].max }

      # What the other side has, at the length of this one.
      def expected(before) = before * times[0].fdiv(times[1])
    end
  end
end
