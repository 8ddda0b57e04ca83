# frozen_string_literal: true

require_relative "../test_helper"

# What devices send, byte by byte as snmptrap, snmpinform and snmpget (net-snmp 5.9.3) put it into a datagram.
class SnmpTrapTest < Minitest::Test
  include Northdrift

  LINK_DOWN = "30818502010104067075626c6963a778020475ba7095020100020100306a300e06082b0601020101030043023039" \
              "3017060a2b06010603010104010006092b0601060301010503300f060a2b060102010202010103020103300f060a" \
              "2b060102010202010803020102301d060b2b060102011f0101011203040e75706c696e6b20746f20636f7265"
  FAN_FIRST = "304602010004067075626c6963a43906092b0601040181fd590940040a030007020106020111430204d2301c301a" \
              "060a2b0601040181fd590201040c66616e2032206661696c6564"
  THIRD = "308185020103301102041e87a8b5020300ffe3040100020103041e301c0408800000000102030402010102031a2f" \
          "c204046761746504000400304d041180001f8880c056a70383520d6b000000000400a736020477824cbc02010002" \
          "01003028300d06082b060102010103004301633017060a2b06010603010104010006092b0601060301010501"
  SECURED = "308191020103301102046dcb738c020300ffe3040101020103042a30280408800000000102030402010102031a2f" \
            "c4040467617465040c66a130aa098211597b2380220400304d041180001f8880c056a70383520d6b000000000400" \
            "a73602040bd1e7ff0201000201003028300d06082b060102010103004301633017060a2b06010603010104010006" \
            "092b0601060301010501"
  GET = "302902010104067075626c6963a01c020451b216b6020100020100300e300c06082b060102010101000500"
  INFORM = "304402010104067075626c6963a637020469b25a620201000201003029300e06082b060102010103004302303930" \
           "17060a2b06010603010104010006092b0601060301010504"
  MIB = Reading::Mib.new([File.read(File.join(ROOT, "core/reading/mibs/standard.mib"))])
  TIME = Time.utc(2026, 11, 22, 6)

  def trap(hex) = Reading::SnmpTrap.new([hex].pack("H*"))
  def line(hex) = JSON.parse(Reading::TrapLine.new(trap(hex), MIB, "10.3.0.1", TIME).to_s)

  def test_second_version
    told = line(LINK_DOWN)
    assert_equal "linkDown: ifIndex=3 ifOperStatus=down ifAlias=uplink to core", told["message"]
    assert_equal ["10.3.0.1", "snmp", "error", "linkDown", "2c", 123.45, "3", 3, "down", "uplink to core"],
                 told.values_at("host", "service", "level", "snmp.trap", "snmp.version", "snmp.uptime", "snmp.index",
                                "ifIndex", "ifOperStatus", "ifAlias")
    refute_includes told.to_s, "public", "the community is a password of a kind"
  end

  # RFC 3584, section 3.1: the enterprise, nought, and the specific number; the device says its address.
  def test_first_version
    told = line(FAN_FIRST)
    assert_equal ["10.3.0.7", "1.3.6.1.4.1.32473.9.0.17", 12.34], told.values_at("host", "snmp.trap", "snmp.uptime")
    assert_equal "fan 2 failed", told["oid.1.3.6.1.4.1.32473.2.1"]
  end

  def test_third_version_without_authentication
    assert_equal %w[coldStart 3 warning], line(THIRD).values_at("snmp.trap", "snmp.version", "level")
    assert_match(/authenticated or enciphered/, assert_raises(Reading::SnmpTrap::Unread) { trap(SECURED) }.message)
  end

  # RFC 3416, section 4.2.7: the same, as a response.
  def test_an_inform_is_answered
    assert_nil trap(LINK_DOWN).answer
    answer = trap(INFORM).answer.unpack1("H*")
    assert_equal INFORM.sub("a637", "a237"), answer
    assert_equal "linkUp", line(INFORM)["snmp.trap"]
  end

  def test_what_is_no_notification_says_so
    [GET, "", "00", "30", "3003020105", LINK_DOWN[0, 60], "3080" * 30_000].each do |hex|
      assert_raises(Reading::SnmpTrap::Unread) { trap(hex) }
    end
    deep = "\x05\x00".b
    deep = "0\x82".b + [deep.bytesize].pack("n") + deep while deep.bytesize < 65_000
    Thread.new { assert_raises(Reading::SnmpTrap::Unread) { Reading::SnmpTrap.new(deep) } }.join
  end

  # Whatever bytes come: a line, or word that it is none.
  def test_damaged_ones_are_told_or_read
    random = Random.new(7)
    read = 5000.times.count do
      bytes = [[LINK_DOWN, FAN_FIRST, THIRD, INFORM].sample(random: random)].pack("H*")
      random.rand(1..4).times { bytes.setbyte(random.rand(bytes.bytesize), random.rand(256)) }
      trap = Reading::SnmpTrap.new(bytes)
      trap.answer
      JSON.parse(Reading::TrapLine.new(trap, MIB, "10.3.0.1", TIME).to_s)
    rescue Reading::SnmpTrap::Unread
      false
    end
    assert_includes 500..4500, read
  end

  MODULE = <<~SMI
    DOOR-MIB DEFINITIONS ::= BEGIN
    IMPORTS enterprises FROM SNMPv2-SMI; -- comment -- door OBJECT IDENTIFIER ::= { enterprises 32473 }
    State ::= TEXTUAL-CONVENTION
      STATUS current DESCRIPTION "open ::= { wrong 1 } -- no comment" SYNTAX INTEGER { open(1), shut(2), stuck(-3) }
    doorState OBJECT-TYPE SYNTAX State MAX-ACCESS read-only STATUS current DESCRIPTION "a ""door""" ::= { door 5 }
    doorAjar TRAP-TYPE ENTERPRISE door VARIABLES { doorState } DESCRIPTION "old" ::= 4
    doorPath OBJECT IDENTIFIER ::= { iso org(3) dod(6) 1 4 1 32473 7 }
    lost OBJECT IDENTIFIER ::= { nowhere 1 }
    ring OBJECT IDENTIFIER ::= { round 1 }
    round OBJECT IDENTIFIER ::= { ring 1 }
    END
  SMI

  def test_names_of_module_files
    mib = Reading::Mib.new([MODULE])
    door = "1.3.6.1.4.1.32473"
    assert_equal(["door", "doorState.0", "doorAjar", "doorPath.1.2", "1.3.6.1.9"],
                 [door, "#{door}.5.0", "#{door}.0.4", "#{door}.7.1.2", "1.3.6.1.9"].map { |oid| mib.name(oid) })
    assert_equal(["shut", "stuck", 9, "text"], [2, -3, 9, "text"].map { |value| mib.value("#{door}.5.0", value) })
    assert_equal 4, mib.size, "what stands nowhere, or below itself, has no place"
  end

  # The same name may stand in two files for two things.
  def test_files_do_not_take_each_others_names
    other = "OTHER-MIB DEFINITIONS ::= BEGIN door OBJECT IDENTIFIER ::= { enterprises 1 } " \
            "knob OBJECT IDENTIFIER ::= { door 2 } END"
    mib = Reading::Mib.new([MODULE, other])
    assert_equal %w[knob doorState], [mib.name("1.3.6.1.4.1.1.2"), mib.name("1.3.6.1.4.1.32473.5")]
  end

  def test_endless_files_end
    chain = (1..3000).map { |n| "n#{n} OBJECT IDENTIFIER ::= { n#{n + 1} 1 }" }.join(" ")
    hostile = [
      "A ::= TEXTUAL-CONVENTION " * 20_000, "\"" * 200_001, "-" * 500_000, "{ a(1), " * 100_000, chain, "\xFF".b * 999
    ]
    started = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    assert_equal 0, Reading::Mib.new(hostile).size
    assert_operator Process.clock_gettime(Process::CLOCK_MONOTONIC) - started, :<, 20
  end

  # Bytes that are no text, a row's number that differs, and a value that is an identifier.
  def test_values_as_people_read_them
    values = {
      "1.3.6.1.2.1.2.2.1.6.3" => "\x00\x1A\xFF".b, "1.3.6.1.2.1.2.2.1.2.3" => "eth0\x00".b,
      "1.3.6.1.2.1.2.2.1.2.4" => "eth1".b, "1.3.6.1.6.3.1.1.4.3.0" => "1.3.6.1.6.3.1.1.5.3",
      "1.3.6.1.2.1.1.5.0" => "sw-1".b
    }
    trap = Struct.new(:oid, :values, :version, :uptime, :agent, :name)
      .new("1.3.6.1.6.3.1.1.5.3", values, "2c", nil, nil, "sw-1")
    told = JSON.parse(Reading::TrapLine.new(trap, MIB, "10.3.0.1", TIME).to_s)
    assert_equal %w[sw-1 0x001aff eth0 eth1 linkDown],
                 told.values_at("host", "ifPhysAddress", "ifDescr.3", "ifDescr.4", "snmpTrapEnterprise")
  end
end
