# frozen_string_literal: true

require_relative "../test_helper"
require "open3"

# Devices speak SNMP: traps and informs as the programs of net-snmp send them, and names as its snmptranslate knows
# them.
class TrapsTest < Northdrift::StoreTest
  include Northdrift
  include Collecting

  LINK_DOWN = "1.3.6.1.6.3.1.1.5.3"
  # Debian has modules of the programs' own, and those that they build on lie beside this test.
  FOLDERS = [File.join(__dir__, "mibs"), "/usr/share/snmp/mibs", File.join(ROOT, "docs")].freeze

  def teardown
    stop_collecting
    super
  end

  def listener
    port = free_port
    feed("snmp", port: port)
    collect
    eventually { File.read("/proc/net/udp").include?(format(":%04X ", port)) }
    "127.0.0.1:#{port}"
  end

  def send_off(program, *rest)
    output, status = Open3.capture2e(program, *rest)
    assert_predicate status, :success?, output
  end

  def came(text)
    come(1, "\"#{text}\"")
    question("\"#{text}\"").page.events.first
  end

  def test_traps_of_each_version
    place = listener
    send_off("snmptrap", "-v", "2c", "-c", "public", place, "", LINK_DOWN, "1.3.6.1.2.1.2.2.1.1.3", "i", "3",
             "1.3.6.1.2.1.31.1.1.1.18.3", "s", "uplink to core")
    line = came("uplink to core")
    assert_equal ["127.0.0.1", "snmp", "linkDown: ifIndex=3 ifAlias=uplink to core", Severity::ERROR],
                 [line.machine, line.service, line.message, line.severity]
    assert_equal 1, question("snmp.trap = linkDown ifIndex = 3").total
    send_off("snmptrap", "-v", "1", "-c", "public", place, "1.3.6.1.4.1.32473", "10.3.0.7", "4", "0", "")
    assert_equal "10.3.0.7", came("authenticationFailure").machine
    send_off("snmptrap", "-v", "3", "-l", "noAuthNoPriv", "-u", "gate", "-e", "0x8000000001020304", place, "",
             "1.3.6.1.6.3.1.1.5.1")
    assert_equal "3", came("coldStart").fields["snmp.version"]
  end

  # Who asks that it be acknowledged waits for that.
  def test_informs_are_acknowledged
    send_off("snmpinform", "-r", "0", "-t", "5", "-v", "2c", "-c", "public", listener, "", "1.3.6.1.6.3.1.1.5.4",
             "1.3.6.1.2.1.1.5.0", "s", "sw-gull-2")
    assert_equal "sw-gull-2", came("linkUp").machine
  end

  def test_what_cannot_be_read_is_told_and_counted
    place = listener
    send_off("snmptrap", "-v", "3", "-l", "authNoPriv", "-u", "gate", "-a", "SHA", "-A", "secretsecret", "-e",
             "0x8000000001020304", place, "", LINK_DOWN)
    eventually("the problem") { Store::Feed.last.problem.to_s.include?("authenticated or enciphered") }
    eventually("the count") { Store::Feed.last.refused == 1 }
  end

  def test_a_module_file_that_is_dropped_gives_names
    FileUtils.mkdir_p(File.join(@data, "mibs"))
    File.write(File.join(@data, "mibs/DOOR-MIB.txt"), <<~SMI)
      DOOR-MIB DEFINITIONS ::= BEGIN
      doors OBJECT IDENTIFIER ::= { enterprises 32473 99 }
      doorState OBJECT-TYPE SYNTAX INTEGER { open(1), stuck(2) } ::= { doors 1 }
      doorTrouble NOTIFICATION-TYPE OBJECTS { doorState } ::= { doors 0 7 }
      END
    SMI
    send_off("snmptrap", "-v", "2c", "-c", "public", listener, "", "1.3.6.1.4.1.32473.99.0.7",
             "1.3.6.1.4.1.32473.99.1.0", "i", "2")
    assert_equal "doorTrouble: doorState=stuck", came("doorTrouble").message
  end

  # Each name that snmptranslate has of these files, ours has too.
  def test_names_against_snmptranslate
    files = FOLDERS.flat_map { |folder| Dir[File.join(folder, "*.txt")] }
    mib = Reading::Mib.new(files.map { |path| File.binread(path) })
    output, = Open3.capture2("snmptranslate", "-M", FOLDERS.join(":"), "-m", "ALL", "-Tz", err: File::NULL)
    # What has no name in them, it calls anonymous.
    known = output.scan(/^"([^"#]+)"\s+"([\d.]+)"/)
    assert_operator known.size, :>, 30
    assert_equal(known.map(&:first), known.map { |_, oid| mib.name(oid) })
  end
end
