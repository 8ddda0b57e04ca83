# frozen_string_literal: true

require_relative "../test_helper"
require "json"
require "open3"
require "time"

# Files that programs of this machine wrote, against what these programs themselves say.
class OutsideReadersTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  DPKG_LOG = "/var/log/dpkg.log"

  # dpkg-query(1): the version and state of each package; dpkg.log's last word on a package must say the same.
  def test_the_package_log_against_the_package_database
    skip "there is no #{DPKG_LOG}" unless File.size?(DPKG_LOG)
    events = records(File.binread(DPKG_LOG), reference: Time.now)
    assert_equal [:package_log], events.map(&:reader).uniq, events.find { |event| event.reader != :package_log }&.raw
    last =
      events
        .select { |event| event.fields["event.name"] == "status" }
        .to_h do |event|
          [
            event.fields.values_at("package.name", "package.architecture"),
            event.fields.values_at("package.status", "package.version")
          ]
        end
    output, = Open3.capture2("dpkg-query", "-W", "-f", "${Package}\t${Architecture}\t${db:Status-Status}\t${Version}\n")
    known = output.lines(chomp: true).to_h { |line| line.split("\t").each_slice(2).to_a }
    both = last.keys & known.keys
    assert_operator both.size, :>, 20
    both.each { |package| assert_equal known[package], last[package], package.join(":") }
  end

  # Of each run of apt(8): the packages of its history against what dpkg.log has of the same moments.
  def test_the_history_of_packages_against_the_package_log
    history = "/var/log/apt/history.log"
    skip "there is no #{history}" unless File.size?(history) && File.size?(DPKG_LOG)
    events = records(File.binread(history), reference: Time.now)
    assert_equal File.binread(history), whole(events)
    runs = events.reject { |event| event.raw.empty? }
    assert_equal [:package_history], runs.map(&:reader).uniq
    assert_equal runs.size, File.read(history).scan(/^Start-Date:/).size
    log = File.readlines(DPKG_LOG)
    began = Time.parse("#{log.first[0, 19]} UTC")
    installed = runs.select { |run| run.time >= began }.flat_map { |run| run.fields["package.install"].to_s.split }
    assert_operator installed.size, :>, 20
    assert_empty installed - log.filter_map { |line| line[/ install (\S+?):\S+ /, 1] }
  end

  # The module csv of Python reads the same file.
  def test_separated_values_against_pythons_reader
    path = File.join(Dir.mktmpdir, "jobs.csv")
    rows =
      Array.new(50) do |index|
        [
          "2026-11-22 06:#{format('%02d', index)}:00", %w[info error][index % 2], "quay", index,
          index.even? ? "moved, \"crate\" #{index}\nto berth #{index}" : "plain #{index}", ""
        ]
      end
    quoted = rows.map do |row|
      row.map { |value| value.to_s.match?(/[",\n]/) ? "\"#{value.gsub('"', '""')}\"" : value }.join(",")
    end
    File.write(path, ["timestamp,level,host,crate,message,note", *quoted].join("\n").concat("\n"))
    told, status =
      Open3.capture2(
        "python3", "-c", "import csv,json,sys; print(json.dumps(list(csv.DictReader(open(sys.argv[1], newline='')))))",
        path
      )
    skip "there is no Python here" unless status.success?
    header, *events = records(File.binread(path))
    assert_equal [:csv, 51], [header.reader, events.size + 1]
    assert_equal File.binread(path), whole([header, *events])
    JSON
      .parse(told)
      .zip(events) do |row, event|
        assert_equal [
          row["timestamp"], row["level"] == "info" ? "informational" : "error", row["host"],
          row["message"], row["crate"].to_i
        ],
                     [
                       event.time.strftime("%Y-%m-%d %H:%M:%S"), Severity.name(event.severity), event.machine,
                       Text.utf8(event.message), event.fields["crate"]
                     ]
        refute event.fields.key?("note")
      end
  end

  # W3C Working Draft "Extended Log File Format" (WD-logfile-960323), section "Example".
  def test_the_example_of_the_extended_log_file_format
    text =
      "#Version: 1.0\n#Date: 12-Jan-1996 00:00:00\n#Fields: time cs-method cs-uri\n00:34:23 GET " \
      "/foo/bar.html\n12:21:16 GET /foo/bar.html\n12:45:52 GET /foo/bar.html\n12:57:34 GET /foo/bar.html\n"
    events = records(text)
    assert_equal [:w3c], events.map(&:reader).uniq
    assert_equal(
      %w[00:34:23 12:21:16 12:45:52 12:57:34].map { |time| "1996-01-12 #{time} UTC" },
      events.drop(3).map { |event| event.time.to_s }
    )
    assert_equal({ "http.request.method" => "GET", "url.full" => "/foo/bar.html" }, events.last.fields)
  end

  # dmesg(1) prints the seconds with -x decoded facility and level as words; both printings must tell the same. What
  # programs write there ("daemon") is left out: dmesg --raw puts facility and level together wrongly (5 and 6 become 7,
  # where RFC 5424 has 46).
  def test_the_kernels_ring_buffer_against_dmesg
    raw, status = Open3.capture2e("dmesg", "--raw")
    decoded, = Open3.capture2e("dmesg", "--decode")
    skip "the kernel's messages may not be read here" unless status.success? && raw.lines.size > 5
    words = {
      "emerg" => 0, "alert" => 1, "crit" => 2, "err" => 3, "warn" => 4, "notice" => 5, "info" => 6, "debug" => 7
    }
    pairs = raw.lines.zip(decoded.lines).select { |line, told| line.start_with?("<") && told&.start_with?("kern ") }
    assert_operator pairs.size, :>, 5
    pairs.each do |line, told|
      event = read(line.chomp)
      assert_equal [words.fetch(told[/\A\w+ *: *(\w+) *:/, 1]), told[/\[ *([\d.]+)\]/, 1].to_f],
                   [event.severity, event.fields["kernel.uptime_s"]], line
    end
  end
end
