# frozen_string_literal: true

ENV["BUNDLE_GEMFILE"] ||= File.expand_path("../Gemfile", __dir__)
require "bundler/setup"
require_relative "../northdrift"
require_relative "lines"

# What a text costs to read (records, logbook, templates, rows). Each is read in a process of its own, which ends when
# it takes too long.
module ReadingCost
  LIMIT_S = 60
  ROUNDS = 2
  MOST = 3.0
  GROWTH = 2.4
  # Below so many seconds no growth can be told.
  TELLING_S = 0.02
  REFERENCE_US = Time.utc(2026, 11, 22, 12).to_i * 1_000_000

  module_function

  # @!attribute seconds [Float] of the processor
  # @!attribute lines [Integer] or records, where a line has several
  Cost = Struct.new(:seconds, :lines)

  # @param warm [String] is read before: what is made once for a kind of text is not its cost
  # @return [Cost, nil] nil where it took too long
  def cost(text, rounds: ROUNDS, warm: "")
    Array.new(rounds) { once(text, warm) || (return nil) }.min_by(&:seconds)
  end

  # @return [String] ordinary lines
  def ordinary(size)
    lines = Bench::Lines.new(size / 100, ends: Time.utc(2026, 11, 22)).to_enum(:each).to_a
    "#{lines.join("\n")}\n".b.byteslice(0, size)
  end

  # @param size [Integer] of the reference too
  # @return [Array(Float, Float), nil] times ordinary, and growth
  def compare(shape, size, reference, **rounds)
    half = cost(shape.call(size / 2), **rounds) or return
    whole = cost(shape.call(size), **rounds) or return
    [times(whole, reference), half.seconds < TELLING_S ? 0 : whole.seconds / half.seconds]
  end

  # Where it has more lines, against as many ordinary ones.
  def times(cost, reference) = cost.seconds / (reference.seconds * [1, cost.lines.fdiv(reference.lines)].max)

  def once(text, warm)
    reader, writer = IO.pipe
    pid = fork do
      Process.setrlimit(:CPU, LIMIT_S)
      read(warm)
      writer.puts(read(text).to_a.join(" "))
      exit!(0)
    end
    writer.close
    Process.wait(pid)
    seconds, lines = reader.read.split
    lines && Cost.new(seconds.to_f, lines.to_i)
  end

  def read(text)
    task =
      Northdrift::Intake::SegmentReader::Task.new(
        text, 0, true, false, "UTC", REFERENCE_US, nil, "hall.log", nil, Northdrift::Reading::Header.last(text,
                                                                                                          first: true)
      )
    started = Process.clock_gettime(Process::CLOCK_PROCESS_CPUTIME_ID)
    result = READER.read(task)
    seconds = Process.clock_gettime(Process::CLOCK_PROCESS_CPUTIME_ID) - started
    abort "lost bytes" unless result.settled == text.bytesize
    Cost.new(seconds, [result.batch.size, text.count("\n")].max)
  end

  READER = Northdrift::Intake::SegmentReader.new
  # What is made once is made before.
  read("#{Bench::Lines.new(2000, ends: Time.utc(2026, 11, 22)).to_enum(:each).to_a.join("\n")}\n")
end
