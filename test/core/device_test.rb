# frozen_string_literal: true

require_relative "../test_helper"

# Messages of network devices, in all the orders that their settings allow: number, host, clock mark, year, fraction and
# zone may be there or not (common practice, no source; facilities and hosts are made up).
class DeviceTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  # Line; time, severity, machine, service, mnemonic, number, whether the clock is set.
  LINES = {
    "000123: *Nov  1 18:46:11: %SYS-5-CONFIG_I: by vty2" => [
      "2026-11-01 18:46:11", 5, nil, "SYS", "CONFIG_I", 123, false
    ],
    "Nov  1 18:48:50.483 UTC: %SYS-5-CONFIG_I: by vty2" => [
      "2026-11-01 18:48:50.483", 5, nil, "SYS", "CONFIG_I", nil, nil
    ],
    "<189>29: quay-1: .Nov 22 06:09:41.123 CET: %LINK-3-UPDOWN: Interface 1, down" => [
      "2026-11-22 05:09:41.123", 3, "quay-1", "LINK", "UPDOWN", 29, false
    ],
    "<187>123: 000045: Nov 22 2026 06:09:41 CEST: %LINK-5-UPDOWN: up" => [
      "2026-11-22 04:09:41", 5, nil, "LINK", "UPDOWN", 123, nil
    ],
    "<166>Nov 22 2026 06:09:41: %WALL-6-302013: Built 447235" => [
      "2026-11-22 06:09:41", 6, nil, "WALL", "302013", nil, nil
    ],
    "<166>Nov 22 2026 06:09:41 wall-1 : %WALL-4-106023: Deny" => [
      "2026-11-22 06:09:41", 4, "wall-1", "WALL", "106023", nil, nil
    ],
    "<189>: 2026 Nov 22 06:09:41 UTC: %PORT-5-IF_UP: up" => ["2026-11-22 06:09:41", 5, nil, "PORT", "IF_UP", nil, nil],
    "<189>Nov 22 06:09:42 quay-1 123: Nov 22 06:09:40.999: %SYS-5-CONFIG_I: by vty" => [
      "2026-11-22 06:09:40.999", 5, "quay-1", "SYS", "CONFIG_I", 123, nil
    ],
    "<189>Nov 22 06:09:42 10.0.0.1 123: Nov 22 06:09:40.999: %SYS-5-CONFIG_I: by vty" => [
      "2026-11-22 06:09:40.999", 5, "10.0.0.1", "SYS", "CONFIG_I", 123, nil
    ],
    "Nov 22 06:09:42 quay-1 : 29: Nov 22 06:09:41.1: %PLAT-FORM-4-WARN_ING: high" => [
      "2026-11-22 06:09:41.1", 4, "quay-1", "PLAT-FORM", "WARN_ING", 29, nil
    ],
    "<185>45: Nov 22 06:09:41.123: %C6PWR-SP-1-PSFAIL: supply 1 failed" => [
      "2026-11-22 06:09:41.123", 1, nil, "C6PWR-SP", "PSFAIL", 45, nil
    ]
  }.freeze

  LINES.each_with_index do |(line, (time, severity, machine, service, mnemonic, number, set)), index|
    define_method("test_line_#{index}") do
      event = read(line)
      assert_equal [:device, severity, machine, service], [event.reader, event.severity, event.machine, event.service],
                   line
      assert_equal [mnemonic, number, set], event.fields.values_at("event.name", "event.sequence", "clock.set"), line
      assert_equal Time.parse("#{time} UTC"), event.time, line
      assert_equal line[/: ([^:]*)\z/, 1], event.message
    end
  end

  # A device that does not know the time of day says how long it has run: a line of its own, of when it came.
  def test_the_time_since_it_started_is_no_time_of_day
    events =
      records(
        "<189>1: Nov 22 06:09:41: %SYS-5-CONFIG_I: one\n00:00:46: %LINK-3-UPDOWN: two\n3w2d: %SYS-5-RESTART: three\n"
      )
    assert_equal [true, false, false], events.map(&:stamped)
    assert_equal(%w[one two three], events.map(&:message))
    assert_equal [5, 3, 5], events.map(&:severity)
  end

  # Where the year stands first, and of a router's part: no colon before the name, a blank behind it.
  {
    "2026 Nov 22 06:09:41.123 n9k1 %ETHPORT-5-IF_DOWN: Interface Ethernet1/1 is down" =>
      [5, "n9k1", "ETHPORT", "IF_DOWN", nil],
    "2026 Nov 22 06:09:41 n9k1 %$ VDC-1 %$ %LOCAL0-2-SYSTEM_MSG: no" => [2, "n9k1", "LOCAL0", "SYSTEM_MSG", nil],
    "RP/0/RSP0/CPU0:Nov 22 06:09:41.123 UTC: ifmgr[228]: %PKT_INFRA-LINK-3-UPDOWN : Interface Gi0, down" =>
      [3, nil, "PKT_INFRA-LINK", "UPDOWN", "228"]
  }.each do |line, expected|
    define_method("test_#{line[0, 40]}") do
      event = read(line)
      names = %w[event.name process.pid]
      assert_equal expected, [event.severity, event.machine, event.service, *event.fields.values_at(*names)]
      assert event.stamped
    end
  end

  # What only looks like one.
  {
    "<189>Nov 22 06:09:41 sw-core-1 %CONFIG-5-CHANGED: mtu 9000" => :rfc3164,
    "Nov 22 06:09:41 quay app: load %CPU-5-HIGH: x" => :rfc3164, "2026-11-22 06:09:41 50%: %A-5-B: x" => :stamped,
    "%SYS-5-CONFIG_I: without a time" => :plain, "Nov 22 06:09:41: %SYS-9-CONFIG_I: no such severity" => :stamped,
    "Nov 22 06:09:41: 100% of it" => :stamped
  }.each_with_index do |(line, reader), index|
    define_method("test_look_alike_#{index}") { assert_equal reader, read(line).reader, line }
  end

  def made(random)
    time = Time.utc(2026, 1 + random.rand(11), 1 + random.rand(28), random.rand(24), random.rand(60), random.rand(60))
    fraction = random.rand(2).zero? ? "" : format(".%03d", random.rand(1000))
    zone, offset = [["", 0], [" UTC", 0], [" CET", 3600], [" EDT", -14_400]].sample(random: random)
    year = [" #{time.year}", "", :first].sample(random: random)
    stamp =
      "#{"#{time.year} " if year == :first}#{time.strftime('%b %e')}#{year unless year == :first} " \
      "#{time.strftime('%T')}#{fraction}#{zone}"
    number = random.rand(2).zero? ? nil : random.rand(100_000)
    host = random.rand(2).zero? ? nil : "sw-#{random.rand(9)}"
    pri = random.rand(2).zero? ? nil : random.rand(192)
    severity = random.rand(8)
    line =
      "#{"<#{pri}>" if pri}#{"#{number}: " if number}#{"#{host}: " if host}#{['', '*', '.'].sample(random: random)}" \
      "#{stamp}: %UNIT-#{severity}-STEP_#{random.rand(9)}: it moved k=#{random.rand(9)}"
    [line, time + "0#{fraction}".to_r - offset, severity, host, number, pri]
  end

  def test_every_order_of_its_parts
    random = Random.new(23)
    1500.times do
      line, time, severity, host, number, pri = made(random)
      event = read(line, reference: Time.utc(2026, 12, 31))
      assert_equal [:device, time, severity, host, number, "UNIT"],
                   [
                     event.reader, event.time.round(3), event.severity, event.machine, event.fields["event.sequence"],
                     event.service
                   ], line
      assert_equal [pri && Reading::Syslog::FACILITIES[pri / 8]], [event.constants["syslog.facility"]], line
      assert_match(/\Ait moved k=\d\z/, event.message)
    end
  end
end
