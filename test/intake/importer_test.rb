# frozen_string_literal: true

require "minitest/mock"
require_relative "../test_helper"
require "rubygems/package"
require "zip"
require "zlib"

class ImporterTest < Northdrift::StoreTest
  include Northdrift

  LOG = Array.new(300) { |index| "2026-11-22 06:#{format('%02d:%02d', index / 60, index % 60)} line #{index}\n" }.join

  def gzip(text) = Zlib.gzip(text)

  def tar(files)
    io = StringIO.new("".b)
    Gem::Package::TarWriter.new(io) do |writer|
      files.each { |name, text| writer.add_file_simple(name, 0o644, text.bytesize) { |file| file.write(text) } }
    end
    io.string
  end

  def zip(files)
    Zip::OutputStream
      .write_buffer { |out| files.each { |name, text| out.tap { out.put_next_entry(name) }.write(text) } }
      .string
  end

  # What is not the lines' own word is said of each file.
  def test_times_in_doubt_are_told
    two_ways = "05/11/2026 06:12:08 a\n06/11/2026 06:12:08 b\n"
    summary = import(write("two-ways.log", two_ways), write("none.log", "a\nb\n"), write("some.log", "#{LOG}\n[7] c\n"),
                     write("one-way.log", "25/11/2025 06:12:08 a\n"))
    told = summary.results.map { |result| [result.date_order, result.undated] }
    assert_equal [["day first", 0], [nil, 2], [nil, 0], [nil, 0]], told
    times = Store::Question.new(find: "source = *two-ways.log").page(last: true, limit: 9).events.map(&:time)
    assert_equal [Time.utc(2026, 11, 5, 6, 12, 8), Time.utc(2026, 11, 6, 6, 12, 8)], times.sort
  end

  def problems(summary) = summary.results.to_h { |result| [File.basename(result.name), result.problem] }

  def test_archives_however_nested
    paths = [
      write("a.gz", gzip(LOG)), write("b.zip", zip("in/x.log" => LOG.sub("line 0", "zip 0"))),
      write("c.tar.gz", gzip(tar("y.log" => LOG.sub("line 0", "tar 0"), "z.gz" => gzip("deep\n")))),
      write("two.gz", gzip("2026-11-22 01:00:00 first\n") + gzip("2026-11-22 01:00:01 second\n"))
    ]
    summary = import(*paths)
    assert_equal 5, summary.files
    assert_equal 903, summary.events
    assert_equal ["2026-11-22 06:00:00 tar 0"], found('"tar 0"')
    assert_equal 1, question("deep").total
    assert_equal 1, question("second").total
  end

  def test_what_cannot_be_read_is_told_and_the_rest_goes_on
    truncated = gzip(LOG * 50)[0..-200]
    summary =
      import(
        write("bin", Random.new(1).bytes(5000)), write("empty", ""), write("cut.gz", truncated), write("good.log", LOG),
        write("x.xz", "\xFD7zXZ\x00rest".b), File.join(@dir, "missing")
      )
    told = problems(summary)
    assert_includes told["bin"], "binary"
    assert_includes told["empty"], "empty"
    assert_includes told["cut"], "ends too early"
    assert_includes told["x.xz"], "xz"
    assert_includes told["missing"], "no such file"
    assert_nil told["good.log"]
    assert_equal 300, question("source = good.log").total
    assert_operator question("source = cut").total, :>, 1000, "what stands before the cut is kept"
  end

  # What lies in a folder may be a pipe that nobody writes into, or lead back to where it is.
  def test_a_folder_that_would_never_end
    inside = File.join(@dir, "all/inside")
    FileUtils.mkdir_p(inside)
    File.mkfifo(File.join(inside, "pipe"))
    File.symlink("..", File.join(inside, "up"))
    write("all/inside/good.log", LOG)
    told = problems(Timeout.timeout(30) { import(File.join(@dir, "all")) })
    assert_includes told["pipe"], "not a regular file"
    assert_includes told["up"], "stands in"
    assert_nil told["good.log"]
  end

  def test_a_zip_bomb_is_stopped
    bomb = File.join(@dir, "bomb.gz")
    Zlib::GzipWriter.open(bomb) { |io| 90.times { io.write("0" * (1 << 20)) } }
    summary = import(bomb, write("good.log", LOG))
    assert_includes problems(summary)["bomb"], "trap"
    assert_equal 300, question("source = good.log").total
  end

  def test_encodings
    text = "2026-11-22 06:12:08 blå ønske\r\n2026-11-22 06:12:09 two\r\n"
    import(
      write("le.log", "\xFF\xFE".b + text.encode("UTF-16LE").b),
      write("be.log", "\xFE\xFF".b + text.sub("two", "three").encode("UTF-16BE").b),
      write("bom.log", "\xEF\xBB\xBF".b + text.sub("two", "four").b),
      write("bad.log", "2026-11-22 06:12:08 caf\xE9 \x00 nul\n".b)
    )
    assert_equal 3, question("blå ønske").total
    assert_equal ["2026-11-22 06:12:08 caf\\xE9 \u0000 nul"], found("nul")
    assert_equal "caf\\xE9 \\x00 nul", Text.display(question("nul").page.events.first.message)
    assert_equal %w[UTF-16LE UTF-8],
                 Store::Source.where("name LIKE '%le.log' OR name LIKE '%bad.log'").order(:encoding).pluck(:encoding)
  end

  def test_the_same_content_adds_nothing_whatever_it_is_called
    import(write("a.log", LOG))
    summary = import(write("renamed.txt", LOG), write("packed.gz", gzip(LOG)), write("a.log", LOG))
    assert_equal [0, 900], [summary.events, summary.duplicates]
    assert_equal 300, question.total
  end

  def test_a_file_that_has_grown_adds_what_is_new
    import(write("a.log", LOG))
    summary = import(write("a.log", "#{LOG}2026-11-22 07:00:00 grown\n"))
    assert_equal [1, 1, 300], [summary.events, summary.lines, summary.duplicates]
    event = question("grown").page.events.first
    assert_equal [301, LOG.bytesize], [event.line, event.offset]
  end

  def test_equal_files_of_two_machines_are_both_kept
    import(write("a.log", LOG), machine: "one")
    import(write("b.log", LOG), machine: "two")
    assert_equal [300, 300], [question("host.name = one").total, question("host.name = two").total]
  end

  # Large enough for the reading processes: cut into segments, put together again in order.
  def test_a_large_file_is_read_in_segments_and_stays_whole
    lines = Array.new(60_000) do |index|
      stamp = format("2026-11-22T06:%02d:%02d.%03dZ", index / 3600 % 60, index / 60 % 60, index % 1000)
      "#{stamp} event #{index} #{'x' * (index % 90)}#{"\n\tat frame #{index}" if (index % 50).zero?}\n"
    end
    summary = import(write("big.log", lines.join))
    assert_equal [60_000, 61_200, lines.sum(&:bytesize)], [summary.events, summary.lines, summary.bytes]
    rows = Store::Database.rows("SELECT line, offset FROM events ORDER BY line")
    numbers = [1]
    offsets = [0]
    lines[0..-2].each do |line|
      numbers << (numbers.last + line.count("\n")) && offsets << (offsets.last + line.bytesize)
    end
    assert_equal numbers.zip(offsets), rows
    assert_equal 0, import(write("again.log", lines.join)).events
  end

  # Killed at any moment: what was committed stays, and the next import adds the rest, nothing twice.
  def test_a_killed_import_goes_on_where_it_was
    lines =
      Array.new(60_000) do |index|
        format("2026-11-22T06:12:08.%06<n>dZ event %<n>d of the night watch, nothing to report from the quay\n",
               n: index)
      end
    path = write("big.log", lines.join)
    [1.5, 2.5].each do |seconds|
      pid =
        Process.spawn(
          File.join(ROOT, "bin/northdrift"), "import", "--data", @data, path,
          out: File::NULL, err: File::NULL, pgroup: true
        )
      sleep seconds
      Process.kill(:KILL, -pid)
      Process.wait(pid)
    end
    import(path)
    assert_equal [["ok"]], Store::Database.rows("PRAGMA integrity_check")
    assert_equal 60_000, question.total
    assert_equal 60_000, Store::Database.value("SELECT count(DISTINCT line) FROM events")
    assert_equal 1, question("57777").total
  end

  def test_an_upload_leaves_no_folder_but_its_own
    jobs = Intake::Jobs.new(@data)
    job = jobs.add(StringIO.new(LOG), name: "../../etc/x.log", zone: "UTC", machine: nil, now_us: 1)
    assert job.path.start_with?(File.join(@data, "spool")), job.path
    jobs.work(job)
    assert_equal ["done", "../../etc/x.log", 300], [job.reload.state, Store::Source.last.name, question.total]
    assert_empty Dir.children(File.join(@data, "spool"))
  end

  def test_a_cancelled_job_keeps_what_was_read
    jobs = Intake::Jobs.new(@data)
    job =
      jobs.add(
        StringIO.new(Array.new(100_000) { |index| "2026-11-22 06:12:08 line #{index} #{'y' * 300}\n" }.join),
        name: "long.log", zone: "UTC", machine: nil, now_us: 1
      )
    pid = fork do
      Store::Database.open(@data)
      Intake::Jobs.new(@data).work(Store::Import.find(job.id))
      exit!(0)
    end
    eventually { Store::Events.total > 0 }
    Store::Import.where(id: job.id).update_all(state: "cancelled")
    Process.wait(pid)
    assert_equal "cancelled", job.reload.state
    assert_operator question.total, :<, 100_000
    assert_operator question.total, :>, 0
  end

  # Names of columns stand in the first line alone; the file is read in pieces by several processes, and goes on later.
  def test_a_table_that_is_read_in_pieces_and_grows
    row = lambda do |index|
      "2026-11-22 06:00:00.#{format('%06d', index)},info,quay-#{index % 7},\"crate #{index}, moved\",#{index}\n"
    end
    text = "timestamp,level,host,message,berth\n#{(0...60_000).map(&row).join}"
    import_text(text, name: "crates.csv")
    assert_equal [60_000, 8571], [question("reader = csv has berth").total, question("host.name = quay-3").total]
    import_text(text + (60_000...60_010).map(&row).join, name: "crates.csv")
    assert_equal [60_010, 10], [question("reader = csv has berth").total, question("berth >= 60000").total]
  end

  # Nothing is written behind a gap: given again when there is room, the file is whole.
  def test_a_disk_that_becomes_full
    lines = Array.new(12_000) { |n| "2026-11-22T06:12:08Z alder app: entry #{n} #{'x' * 1000}\n" }
    path = write("large.log", lines.join)
    checks = 0
    full = lambda do |*|
      raise Errno::ENOSPC, "1 MB are left" if (checks += 1) == 2 # and there would be room again afterwards
    end
    room = Intake::Live::Room.new(@data)
    room.define_singleton_method(:check, &full)
    Intake::Live::Room.stub(:new, room) do
      assert_includes assert_raises(Intake::Importer::NoRoom) { import(path) }.message, "when it is given again"
    end
    assert_operator question("entry").total, :<, 12_000
    import(path)
    assert_equal 12_000, question("entry").total
    assert_equal lines.join, Store::SourceText.new(Store::Source.first).to_enum(:each).to_a.join
  end
end
