# frozen_string_literal: true

require "minitest/mock"
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

  def entries = found("entry").map { |text| text[/entry (\d+)/, 1].to_i }

  def put_lines(numbers) = put(numbers.map { |n| "Nov 23 10:00:#{format('%02d', n)} alder app[7]: entry #{n}\n" }.join)

  def follow_log
    feed("follow", paths: "#{@folder}/*", machine: "alder")
    collect
  end

  # Copying a large log takes a while, in which the program writes on.
  def test_what_was_written_between_the_copy_and_the_cut
    follow_log
    put_lines(0..9)
    eventually { entries.size == 10 }
    FileUtils.cp(@log, "#{@log}.1")
    put_lines(10..14)
    eventually { entries.size == 15 }
    File.truncate(@log, 0)
    put_lines(15..16)
    eventually { entries.max == 16 }
    sleep Intake::Live::Inlets::Follow::COPYING_SECONDS + 1 # by then the copy was looked at
    assert_equal [*0..16], entries
  end

  # With the same header of more than what is compared at the start, and longer than what was read before.
  def test_a_file_that_is_written_anew_behind_its_header
    header = "#{'# columns of this log, as every file of it has them ' * 12}\n"
    put(header)
    put_lines(0..4)
    follow_log
    eventually { entries.size == 5 }
    File.write(@log, header)
    put_lines(20..39)
    eventually { entries.max == 39 }
    assert_equal [*0..4, *20..39], entries
  end

  # What is known of the first is what all files of the program start with.
  def test_a_file_with_the_banner_of_another_is_one_of_its_own
    banner = (1..40).map { |n| "# banner #{n}: this program tells of itself before anything else\n" }.join
    other = File.join(@folder, "web.log")
    File.write(other, banner)
    import(other, machine: "alder")
    File.delete(other)
    put(banner)
    put_lines(0..4)
    follow_log
    eventually { entries.size == 5 }
    assert_equal({ "web.log" => 40, "app.log" => 45 },
                 Store::Source.pluck(:name, :lines).to_h.transform_keys { |name| File.basename(name) })
  end

  # A system that lets a process open few files.
  def test_more_files_than_may_be_open_take_turns_and_keep_nobody_else_from_it
    most = 320
    files = (0...(most - Intake::Live::Office::RESERVE + 30)).map { |n| File.join(@folder, "app#{n}.log") }
    files.each_with_index { |path, n| File.write(path, "entry #{n} of #{path}\n") }
    port = free_port
    following = feed("follow", paths: "#{@folder}/*", machine: "alder")
    feed("tcp", port: port)
    Process.stub(:getrlimit, [most, most]) do
      idle = Intake::Live::Inlets::Follow.send(:remove_const, :IDLE_SECONDS)
      Intake::Live::Inlets::Follow.const_set(:IDLE_SECONDS, 4)
      collect
      Intake::Live::Inlets::Follow.send(:remove_const, :IDLE_SECONDS)
      Intake::Live::Inlets::Follow.const_set(:IDLE_SECONDS, idle)
    end
    listening(port)
    eventually("a file to wait") { following.reload.problem.to_s.include?("(and 29 more)") }
    TCPSocket.open("127.0.0.1", port) { |socket| socket.puts("entry 9999") }
    eventually { entries.include?(9999) }
    eventually("all files") { entries.sort == [*0...files.size, 9999] }
    eventually { following.reload.problem.nil? }
  end
end
