# frozen_string_literal: true

require_relative "../test_helper"
require "open3"

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
    last = events.select { |event| event.fields["event.name"] == "status" }.to_h { |event| [event.fields.values_at("package.name", "package.architecture"), event.fields.values_at("package.status", "package.version")] }
    output, = Open3.capture2("dpkg-query", "-W", "-f", "${Package}\t${Architecture}\t${db:Status-Status}\t${Version}\n")
    known = output.lines(chomp: true).to_h { |line| line.split("\t").each_slice(2).to_a }
    both = last.keys & known.keys
    assert_operator both.size, :>, 20
    both.each { |package| assert_equal known[package], last[package], package.join(":") }
  end

  # dmesg(1) prints the seconds with -x decoded facility and level as words; both printings must tell the same.
  def test_the_kernels_ring_buffer_against_dmesg
    raw, status = Open3.capture2e("dmesg", "--raw")
    decoded, = Open3.capture2e("dmesg", "--decode")
    skip "the kernel's messages may not be read here" unless status.success? && raw.lines.size > 5
    words = { "emerg" => 0, "alert" => 1, "crit" => 2, "err" => 3, "warn" => 4, "notice" => 5, "info" => 6, "debug" => 7 }
    expected = decoded.lines.filter_map { |line| line[/\A\w+ *: *(\w+) *: \[ *([\d.]+)\]/] && [words.fetch(Regexp.last_match(1)), Regexp.last_match(2).to_f] }
    lines = raw.lines.grep(/\A<\d+>\[/)
    assert_equal(expected.first(lines.size), lines.map { |line| read(line.chomp) }.map { |event| [event.severity, event.fields["kernel.uptime_s"]] }.first(expected.size))
  end
end
