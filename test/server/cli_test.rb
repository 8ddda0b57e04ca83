# frozen_string_literal: true

require_relative "../test_helper"
require "csv"
require "json"
require "open3"

class CliTest < Minitest::Test
  include Northdrift

  LOG =
    "2026-11-22T06:12:08.417Z ERROR booking BK-1 failed\n2026-11-22T06:12:09Z INFO a " \
    "formula\n{\"time\":\"2026-11-22T06:12:09.5Z\",\"level\":\"info\"," \
    "\"msg\":\"=cmd|calc!A0\"}\n2026-11-22T06:12:10Z " \
    "INFO caf\u00e9 \u202eevil\n"

  def setup = @data = Dir.mktmpdir("northdrift-cli")
  def teardown = FileUtils.rm_rf(@data)

  # A process of its own, as the command has; what it needs is loaded already.
  # @return [Array(String, String, Integer)] output, errors, exit status
  def run_cli(*arguments, input: "")
    LOADER.eager_load
    Dir.mktmpdir do |dir|
      given, output, errors = %w[input output errors].map { |name| File.join(dir, name) }
      File.binwrite(given, input)
      pid = fork { command(arguments, given, output, errors) }
      status = Process.wait2(pid).last.exitstatus
      [output, errors].map { |path| File.read(path, encoding: "UTF-8") } << status
    end
  end

  def command(arguments, given, output, errors)
    $stdin.reopen(given, "rb")
    $stdout.reopen(output, "w")
    $stderr.reopen(errors, "w")
    Server::Cli.run(arguments)
    status = 0
  rescue SystemExit => error
    status = error.status
  ensure
    [$stdout, $stderr].each(&:flush)
    exit!(status || 1)
  end

  def find(*arguments) = run_cli("find", "--data", @data, *arguments)

  def test_import_and_find
    summary = JSON.parse(run_cli("import", "--data", @data, "--json", "--host", "m-1", "-", input: LOG).first)
    assert_equal [1, 4, 4, LOG.bytesize, 0, 0],
                 summary.values_at("files", "lines", "events", "bytes", "unread", "duplicates")

    assert_equal ["1\n", "", 0], find("--as", "count", "booking")
    assert_equal [LOG.lines.first, "", 0], find("--as", "raw", "booking")
    assert_equal 1, find("nothing-like-it").last
    record = JSON.parse(find("--as", "ndjson", "booking").first)
    assert_equal %w[id time severity host.name service.name message raw source line_number fields], record.keys
    assert_equal ["2026-11-22T06:12:08.417000Z", "error", "m-1", 1],
                 record.values_at("time", "severity", "host.name", "line_number")
    assert_equal "'=cmd|calc!A0", CSV.parse(find("--as", "csv", "calc").first, headers: true)[0]["message"],
                 "no spreadsheet may compute it"
    assert_includes find("evil").first, "\\u{202E}evil"
    assert_equal 3, find("--from", "2026-11-22T06:12:09Z", "--to", "2026-11-22T06:12:11Z", "").first.lines.size

    output, errors, status = find("sevrity > error")
    assert_equal ["", 2], [output, status]
    assert_includes errors, "did you mean severity?"
    assert_includes errors, "^^^^^^^"
  end

  # Line feeds that stand in what a program said, and a name that a spreadsheet would compute.
  def test_no_text_looks_like_a_further_line
    File.write(File.join(@data, "forged.log"), <<~'JSON')
      {"time":"2026-11-22T06:12:08Z","host":"hall\n","msg":"one\n2026-11-22 06:12:09.000000 alert a b forged","=cmd":"x\ny"}
    JSON
    run_cli("import", "--data", @data, File.join(@data, "forged.log"))
    forged = "2026-11-22 06:12:09.000000 alert"
    [
      %w[find forged], %w[fields forged], %w[patterns forged], %w[words forged], ["measure", "count by =cmd", "forged"],
      %w[why forged], %w[logbook]
    ].each do |command, *arguments|
      output = run_cli(command, "--data", @data, *arguments).first
      refute(output.lines.any? { |line| line.start_with?(forged, "y", "\n") }, "#{command}: #{output}")
    end
    assert_includes find("forged").first, "hall\\n - one\n    #{forged}"
    assert_equal "'=cmd", find("--as", "csv", "--columns", "=cmd", "forged").first.lines.first.chomp.split(",").last
  end

  def feed(*arguments) = run_cli("feed", *arguments, "--data", @data)

  # Those of the standard ports are there from the start.
  def test_sources_are_added_listed_paused_and_removed
    output, errors, status = feed("add", "udp", "--port", "5544")
    assert_equal ["added source 4: udp 127.0.0.1:5544\n", 0], [output, status]
    assert_equal "northdrift: made a new data folder: #{@data}\n", errors, "a name that was mistyped is noticed"
    assert_match(
      /\Aadded source 5: desk\nits token, which is not told again: \w{40}\n\z/,
      feed("add", "http", "--name", "desk").first
    )
    assert_equal "added source 6: follow /var/log/x/*.log\n",
                 feed("add", "follow", "--paths", "/var/log/x/*.log", "/var/log/y.log").first
    assert_equal "added source 7: command dmesg --follow\n", feed("add", "command", "--command", "dmesg --follow").first
    feed("pause", "4")
    feed("remove", "6")
    *listed, last = feed("list").first.lines
    listed = listed.map { |line| line.chomp.split("\t").values_at(0, 1, 2, 3, -1) }
    assert_equal [
      ["4", "udp", "udp 127.0.0.1:5544", "127.0.0.1:5544", "paused"], %w[5 http desk 127.0.0.1:4318 waits],
      ["7", "command", "command dmesg --follow", "dmesg --follow", "waits"]
    ], listed.last(3)
    assert_includes last, "Nothing collects"
    File.write(File.join(@data, Intake::Live::Collector::RUNNING), Process.pid)
    assert_equal "running\n", feed("list").first.lines.last.split("\t").last
    {
      %w[add pigeon] => "there are these kinds", %w[add udp --paths /x] => "has no --paths",
      %w[pause 99] => "there is no source 99"
    }.each do |arguments, words|
      output, errors, status = feed(*arguments)
      assert_equal [true, ""], [status != 0, output], arguments
      assert_includes errors, words
    end
  end

  def test_a_source_is_changed
    feed("add", "tcp", "--port", "5544", "--zone", "Europe/Oslo", "--name", "hall")
    assert_equal "changed source 4: hall\t127.0.0.1:5545\n",
                 feed("change", "4", "--port", "5545", "--limit", "10").first
    Store::Database.open(@data)
    assert_equal({ "port" => 5545, "zone" => "Europe/Oslo", "limit" => 10 },
                 Store::Feed.find(4).given.slice("port", "zone", "limit"))
    feed("add", "http", "--name", "desk")
    before = Store::Feed.find(5).given["token"]
    feed("change", "5", "--port", "4400", "--name", "desks")
    desks = Store::Feed.find(5)
    assert_equal [4400, before, "desks"], [*desks.given.values_at("port", "token"), desks.name]
    assert_includes feed("change", "5", "--port", "0")[1], "a port is a number"
    assert_equal 5545, Store::Feed.find(4).given["port"]
  ensure
    ActiveRecord::Base.connection_handler.clear_all_connections!
  end

  def test_what_asks_makes_no_data_folder
    nowhere = File.join(@data, "nowhere")
    [%w[feed list], %w[keep], %w[find x], %w[feed pause 1]].each do |command|
      _, errors, status = run_cli(*command, "--data", nowhere)
      assert_equal 2, status, command
      assert_includes errors, "there is no data in #{nowhere}"
      refute_path_exists nowhere
    end
  end

  def test_help_and_unknown_options
    assert_includes run_cli("find", "--help").first, "--limit"
    assert_includes run_cli("--help").first, "import"
    assert_includes run_cli("feed", "add", "--help").first, "--paths"
    assert_includes run_cli("feed", "add", "follow", "-h").first, "--paths"
    assert_includes run_cli("feed", "--help").first, "feed remove"
    assert_equal 2, run_cli("find", "--data", @data, "--colour", "x").last
    assert_equal 2, run_cli("import", "--data", @data, "--zone", "Mars/Olympus", "-", input: "x").last
    refute_includes run_cli("find", "--data", "/proc/nowhere", "x")[1], "from /"
  end

  def test_patterns_as_a_table_and_as_json
    log =
      Array.new(30) { |index| "2026-11-22T06:#{index + 10}:00Z session #{index} opened\n" } +
      ["2026-11-22T06:39:30Z ERROR disk /dev/sda1 failed\n"]
    run_cli("import", "--data", @data, "--host", "m-1", "-", input: log.join)
    output, errors, status = run_cli("patterns", "--data", @data)
    assert_equal [%w[lines 30 1], "", 0], [output.lines.map { |line| line.split.first }, errors, status]
    assert_match(/^ +30 +unset +m-1 +session … opened +\(P\d+\)$/, output)
    rows =
      run_cli("patterns", "--data", @data, "--as", "json", "--from", "2026-11-22T06:30:00Z", "--with", "before")
        .first
        .lines
        .map { |line| JSON.parse(line) }
    assert_equal [["session … opened", "same"], ["ERROR disk … failed", "same"]].sort,
                 rows.map { |row| row.values_at("text", "change") }.sort
    assert_equal [1, 2, 2],
                 [
                   run_cli("patterns", "--data", @data, "nothing-like-it"),
                   run_cli("patterns", "--data", @data, "--with", "never"),
                   run_cli("patterns", "--data", @data, "a and")
                 ].map(&:last)
  end

  REQUESTS = Array.new(40) do |index|
    {
      time: format("2026-11-22T06:%02d:00Z", index), level: index < 20 ? "info" : "error",
      host: %w[alder birch][index % 2], service: "shop", msg: "order #{index} served", duration_ms: index * 10
    }
  end.freeze

  # The sums are done by hand: 0, 10 … 390 ms in forty minutes.
  def test_fields_words_and_measures
    run_cli("import", "--data", @data, "-", input: REQUESTS.map { |request| JSON.generate(request) }.join("\n"))
    output, _, status = run_cli("fields", "--data", @data, "--limit", "30")
    assert_equal 0, status
    assert_includes output,
                    "duration_ms: duration, in 40 of 40 lines, 40 values\n           min 0 s, median 195 ms, p95 370 " \
                    "ms, max 390 ms"
    assert_match(/^host.name: text, in 40 of 40 lines, 2 values\n +20 +alder\n +20 +birch$/, output)
    duration =
      run_cli("fields", "--data", @data, "--as", "json")
        .first
        .lines
        .map { |line| JSON.parse(line) }
        .find { |field| field["name"] == "duration_ms" }
    # By the definition of type 7: 0.95 of the way from the first to the fortieth.
    assert_in_delta 0.3705, duration["numbers"]["p95"], 1e-12
    assert_match(/^ +40 +order$/, run_cli("words", "--data", @data).first)
    assert_equal ["avg           host.name\n200 ms        birch\n190 ms        alder\n195 ms over 40 lines\n", "", 0],
                 run_cli("measure", "--data", @data, "avg(duration_ms) by host.name")
    assert_equal "count         host.name\n20            alder\n20            other\n40 over 40 lines\n",
                 run_cli("measure", "--data", @data, "count by host.name top 1").first
    assert_includes run_cli("measure", "--data", @data, "max(duration_ms) per 10 min", "host.name = alder").first,
                    "2026-11-22T06:30:00Z        380 ms\n380 ms over 20 lines"
    output, errors, status = run_cli("measure", "--data", @data, "p95(duratoin_ms)")
    assert_equal ["", 2], [output, status]
    assert_includes errors, "did you mean duration_ms?"
  end

  def test_people
    add = ["person", "add", "--data", @data]
    assert_equal ["added Olav, administrator\n", 0],
                 run_cli(*add, "Olav", "--role", "administrator", input: "zither-lantern-plum\n").values_at(0, 2)
    run_cli(*add, "Vera", input: "zither-lantern-plum\n")
    assert_equal "administrator  Olav\nviewer         Vera\n", run_cli("person", "list", "--data", @data).first
    {
      [*add, "vera"] => "there is a vera already", [*add, "Ida", "--role", "captain"] => "there is no role “captain”",
      [*add, "Ida"] => "12 are the least", ["person", "disable", "olav", "--data", @data] => "only administrator",
      ["person", "role", "Nobody", "viewer", "--data", @data] => "there is no Nobody",
      [*add, "caf\xE9"] => "is no text in UTF-8", ["token", "add", "\xE9", "--data", @data] => "is no text in UTF-8",
      ["feed", "add", "tcp", "--name", "\xE9", "--data", @data] => "is no text in UTF-8"
    }.each do |command, reason|
      _, errors, status = run_cli(*command, input: "short\n")
      assert_equal [true, 2], [errors.include?(reason), status], errors
    end
    run_cli("person", "sight", "Vera", "host.site = oslo", "--data", @data)
    assert_includes run_cli("person", "list", "--data", @data).first, "viewer         Vera sees host.site = oslo\n"
    assert_equal 2, run_cli("person", "role", "Vera", "operator", "--data", @data).last
    run_cli("person", "sight", "Vera", "--data", @data)
    Store::Database.open(@data)
    Store::Person.named("Vera").update!(factor_since_us: 1)
    run_cli("person", "factor-off", "Vera", "--data", @data)
    Store::Database.open(@data)
    refute_predicate Store::Person.named("Vera").factor, :on?
    run_cli("person", "role", "Vera", "operator", "--data", @data)
    run_cli("person", "disable", "Vera", "--data", @data)
    run_cli("person", "password", "Olav", "--data", @data, input: "plover-quarry-seven\n")
    assert_includes run_cli("person", "list", "--data", @data).first, "operator       Vera (disabled)"
    Store::Database.open(@data)
    assert Store::Person.authenticate("olav", "plover-quarry-seven")
  end

  def test_a_data_folder_is_looked_after
    log = File.join(@data, "app.log").tap { |path| File.write(path, "Nov 22 06:00:00 alder app: one\n") }
    run_cli("import", "--data", @data, log)
    backup = File.join(@data, "copy.backup")
    output, errors, status = run_cli("backup", backup, "--data", @data)
    assert_equal [true, "", 0], [output.match?(/\A\d+ lines and \d+ further files, checked/), errors, status]
    assert_equal([true, 2], run_cli("backup", backup, "--data", @data).then do |_, said, left|
      [said.include?("is there already"), left]
    end)
    elsewhere = File.join(@data, "elsewhere")
    assert_equal 0, run_cli("restore", backup, "--data", elsewhere).last
    assert_equal 2, run_cli("restore", backup, "--data", elsewhere).last
    assert_equal(*[@data, elsewhere].map { |dir| run_cli("find", "", "--as", "count", "--data", dir).first })
    assert_includes run_cli("audit", "list", "--data", elsewhere).first, "northdrift restore"
    output, _, status = run_cli("doctor", "--data", elsewhere)
    assert_equal [true, 0], [output.include?("ok     database: whole"), status], output
    File.chmod(0o755, elsewhere)
    output, _, status = run_cli("doctor", "--data", elsewhere, "--as", "json")
    wrong = output.lines.map { |line| JSON.parse(line) }.select { |one| one["level"] == "wrong" }
    assert_equal [["folder"], 1], [wrong.map { |one| one["check"] }, status]
    assert_equal 2, run_cli("doctor", "--data", File.join(@data, "none")).last
  end

  def test_tokens
    secret = run_cli("token", "add", "nightly\u200b report", "--days", "9", "--data", @data).first.chomp
    Store::Database.open(@data)
    assert_equal(["viewer", 9], Store::Token.of(secret).then do |one|
      [one.role, (one.expires_us - one.created_us) / 86_400_000_000]
    end)
    assert_match(/\A1\tviewer +\tnightly.* report\texpires [\d-]+, never used\n\z/,
                 run_cli("token", "list", "--data", @data).first)
    run_cli("token", "remove", "1", "--data", @data)
    assert_equal 2, run_cli("token", "remove", "1", "--data", @data).last
    Store::Database.open(@data)
    assert_nil Store::Token.of(secret)
  end

  # Others could reach it, and everybody would do everything.
  def test_no_start_where_others_reach_it_and_nobody_can_log_in
    serve = ["serve", "--data", @data, "--port", "0"]
    [[*serve, "--bind", "0.0.0.0"], [*serve, "--people"]].each do |command|
      _, errors, status = run_cli(*command)
      assert_equal [2, true], [status, errors.include?("bin/northdrift person add NAME --role administrator")], errors
    end
    _, errors, status = run_cli(*serve, "--bind", "0.0.0.0", "--no-people")
    assert_equal [2, true], [status, errors.include?("people have to log in")]
  end

  def test_what_changed
    run_cli("import", "--data", @data, "-", input: REQUESTS.map { |request| JSON.generate(request) }.join("\n"))
    output, _, status =
      run_cli("compare", "--data", @data, "--from", "2026-11-22T06:20:00Z", "--to", "2026-11-22T06:40:00Z")
    assert_equal 0, status
    assert_match(/^ +20 +0 +new +severity +error$/, output)
    refute_includes output, "alder", "both machines wrote as much before"
    assert_equal 1,
                 run_cli(
                   "compare", "--data", @data, "host.name = alder", "--with", "host.name = birch", "--from",
                   "2026-11-22T06:50:00Z", "--to", "2026-11-22T07:00:00Z"
                 ).last
    assert_includes run_cli("compare", "--data", @data, "--with", "last summer")[1], "a comparison is with"
  end

  STORY = <<~LINES
    Nov 22 06:12:00 alder sudo:      ida : TTY=pts/0 ; PWD=/ ; USER=root ; COMMAND=/sbin/reboot
    Nov 22 06:12:01 alder systemd-logind[600]: System is rebooting.
    Nov 22 06:13:00 alder kernel: Linux version 6.1.0-26-amd64 (debian-kernel@lists.debian.org)
    Nov 22 06:13:05 alder halld[9]: ERROR no seat
  LINES

  # The same as the pages Logbook, Restarts and “What changed before?” say.
  def test_what_happened_and_why
    run_cli("import", "--data", @data, "-", input: STORY)
    logbook, errors, status = run_cli("logbook", "--data", @data, "--zone", "Europe/Oslo")
    assert_equal ["", 0], [errors, status]
    assert_match(/2026-11-22 07:13:00.000 +\S+ +alder/, logbook)
    entries = run_cli("logbook", "--data", @data, "--as", "json", "--kind", "machine-start").first.lines
    assert_equal ["machine-start"], entries.map { |line| JSON.parse(line)["kind"] }.uniq
    assert_equal logbook.lines.size, run_cli("logbook", "--data", @data, "--host", "alder").first.lines.size
    assert_equal ["", 1], run_cli("logbook", "--data", @data, "--host", "birch").values_at(0, 2)

    restarts = run_cli("restarts", "--data", @data).first
    assert_match(/\A2026-11-22 06:13:00.000  alder, back after 59 s: .*\n    for .*ida/, restarts)
    assert_equal "alder", JSON.parse(run_cli("restarts", "--data", @data, "--as", "json").first)["machine"]

    why = run_cli("why", "--data", @data, "no seat").first
    assert_includes why.lines[0], "ERROR no seat"
    assert_match(/^  1\. .* — alder, .* before, on the machine itself/, why)
    assert_equal 1, run_cli("why", "--data", @data, "nothing-like-it").last
    _, errors, status = run_cli("logbook", "--data", @data, "--kind", "nonsense")
    assert_equal [true, 2], [errors.include?("there is no kind “nonsense”; there are machine-start"), status]
  end

  def test_a_workbook_goes_to_a_file
    run_cli("import", "--data", @data, "-", input: LOG)
    assert_equal "PK".b, run_cli("find", "--data", @data, "--as", "xlsx").first.b[0, 2]
    assert_equal ["resourceLogs"], JSON.parse(run_cli("find", "--data", @data, "--as", "otlp").first).keys
  end

  def test_read_keeps_nothing
    path = File.join(@data, "a.log")
    File.write(path, LOG)
    output, = run_cli("read", path)
    assert_includes output, "2026-11-22T06:12:08.417000Z"
    assert_includes output, "level word “ERROR”"
    assert_equal ["a.log"], Dir.children(@data)
  end

  def test_goes_well_through_a_pipe
    run_cli(
      "import", "--data", @data, "-", input: Array.new(3000) { |index| "2026-11-22 06:12:08 line #{index}\n" }.join
    )
    output, status =
      Open3.capture2e("bash", "-c", "set -o pipefail; #{ROOT}/bin/northdrift find --data #{@data} line | head -2")
    assert_equal 2, output.lines.size, output
    assert_includes [0, 141], status.exitstatus
  end

  # Commands that need no data folder.
  def test_help_and_reading_go_well_through_a_pipe
    path = File.join(@data, "a.log")
    File.write(path, LOG * 2000)
    ["help", "read #{path} --limit 100000"].each do |command|
      output, status = Open3.capture2e("bash", "-c", "set -o pipefail; #{ROOT}/bin/northdrift #{command} | head -1")
      assert_equal 1, output.lines.size, output
      assert_includes [0, 141], status.exitstatus
    end
    output, status = Open3.capture2e("#{ROOT}/bin/northdrift", "read", File.join(@data, "none.log"))
    assert_equal [1, "  there is no such file"], [status.exitstatus, output.lines.last.chomp], output
  end

  # In a process of its own: what other tests have loaded must not help.
  def test_a_damaged_archive_is_told
    path = File.join(@data, "cut.log.gz")
    File.binwrite(path, Zlib.gzip(LOG * 200).byteslice(0, 60))
    output, status = Open3.capture2e("#{ROOT}/bin/northdrift", "read", path)
    assert_includes output, "damaged: it ends too early"
    assert_equal 1, status.exitstatus, output
    File.binwrite(path, "")
    assert_match(
      /empty: there is nothing in it\n\z/,
      Open3.capture2e("#{ROOT}/bin/northdrift", "read", path, __FILE__, "--limit", "0").first.lines[0, 2].join
    )
  end

  def test_a_folder_without_data_is_told
    _, errors, status = run_cli("find", "--data", File.join(@data, "mistyped"), "line")
    assert_equal [2, false], [status, File.exist?(File.join(@data, "mistyped"))]
    assert_includes errors, "there is no data in #{@data}/mistyped yet"
  end

  def test_what_makes_no_sense_is_told_in_a_line
    run_cli("import", "--data", @data, "-", input: LOG)
    {
      %w[--limit -1] => "--limit", %w[--limit 1.5] => "--limit", ["caf\xE9"] => "UTF-8",
      %w[--since 2h --from yesterday] => "--since", %w[--since often] => "often"
    }.each do |words, expected|
      output, errors, status = find(*words)
      assert_equal ["", 1, 2], [output, errors.lines.size, status], errors
      assert_includes errors, expected
    end
  end

  def test_so_long_before_now
    now = Time.at(0, Store::Clock.now_us, :microsecond, in: "UTC")
    log = [9000, 60].map { |seconds| "#{(now - seconds).strftime('%FT%TZ')} #{seconds} ago\n" }.join
    run_cli("import", "--data", @data, "-", input: log)
    assert_equal "1\n", find("--as", "count", "--since", "2h", "ago").first
    assert_equal "2\n", find("--as", "count", "--since", "3 hours", "ago").first
  end

  # /dev/full is always full (full(4)).
  def test_an_output_that_cannot_be_written
    run_cli("import", "--data", @data, "-", input: LOG)
    reader, writer = IO.pipe
    command = [File.join(ROOT, "bin/northdrift"), "find", "--data", @data, "booking"]
    pid = Process.spawn(*command, out: "/dev/full", err: writer)
    writer.close
    assert_equal ["northdrift: the output cannot be written: No space left on device\n", 2],
                 [reader.read, Process.wait2(pid).last.exitstatus]
  end
end
