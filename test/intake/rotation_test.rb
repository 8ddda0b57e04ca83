# frozen_string_literal: true

require_relative "../test_helper"

# A program writes and its log is rotated, in whatever order and at whatever moment, while the collector comes and goes:
# each line is there, once. Ways of rotation are common practice, no source: by renaming, and by copying and truncating.
class RotationTest < Northdrift::StoreTest
  include Northdrift
  include Northdrift::Collecting

  def setup
    super
    @folder = FileUtils.mkdir_p(File.join(@dir, "logs")).first
    @written = []
    @log = File.join(@folder, "app.log")
    @rest = nil
    @done = []
  end

  def teardown
    stop_collecting
    super
  end

  def line
    "Nov 23 10:00:#{format('%02d', @written.size % 60)} alder app[7]: entry #{@written.size} of the night, " \
      "#{format('%08x', @written.size * 2_654_435_761 % (1 << 32))}"
  end

  def put(text) = File.write(@log, text, mode: "a")

  # Programs write lines in pieces, too.
  def append(random, count)
    put(@rest) if @rest
    @rest = nil
    count.times { @written << line.tap { |text| put("#{text}\n") } }
    return unless random.rand(4).zero?

    @written << (whole = line)
    at = random.rand(1...whole.size)
    put(whole[0, at])
    @rest = "#{whole[at..]}\n"
  end

  # A program ends its line before its log is taken from it.
  def finish
    put(@rest) if @rest
    @rest = nil
  end

  def shift
    Dir[File.join(@folder, "app.log.[0-9]*")]
      .sort_by { |path| -path[/\d+\z/].to_i }
      .each { |path| File.rename(path, path.sub(/\d+\z/) { |number| number.to_i.succ.to_s }) }
  end

  def rename
    finish
    return unless File.size?(@log)

    shift
    File.rename(@log, "#{@log}.1")
  end

  # Within a line of the program, the copy and what is written after it have a half each, whoever reads them.
  def copy_and_truncate
    return if @rest || !File.size?(@log)

    shift
    FileUtils.cp(@log, "#{@log}.1")
    File.truncate(@log, 0)
  end

  def restarted
    stop_collecting
    collect
  end

  def whole_night(seed, rotation)
    random = Random.new(seed)
    feed("follow", paths: "#{@log}*", machine: "alder")
    collect
    25.times do |step|
      before = @written.size
      what = case random.rand(8)
      when 0..4 then :append
      when 5, 6 then rotation
      else step.odd? ? :restarted : :append
      end
      what == :append ? append(random, random.rand(1..30)) : send(what)
      @done << (what == :append ? "#{before}..#{@written.size - 1}" : what)
      sleep random.rand(0.7)
    end
    append(random, 1)
    finish
    eventually { question("entry").total >= @written.size } if @written.any?
    sleep 3 # by then all copies were looked at
    there = found("entry").map { |text| text[/entry (\d+)/, 1].to_i }
    assert_equal [[], []], [[*0...@written.size] - there, there.tally.select { |_, times| times > 1 }.keys],
                 "missing, and doubled; #{@done.join(', ')}"
  end

  def test_by_renaming = whole_night(1, :rename)

  def test_by_copying_and_truncating = whole_night(21, :copy_and_truncate)

  # A few lines that were copied, renamed and met again after a restart.
  def test_files_of_a_few_lines = whole_night(6, :copy_and_truncate)
end
