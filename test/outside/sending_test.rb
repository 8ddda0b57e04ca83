# frozen_string_literal: true

require_relative "../test_helper"
require "mail"
require "net/smtp"
require "open3"
require "rack"
require "syslog/parser"

# What is told of alerts, as real peers receive it: Net-SNMP's notification receiver, the openssl command, the gem
# syslog-parser, and a mail server and the mail gem for what they hand over.
class SendingPeersTest < Northdrift::StoreTest
  include Northdrift
  include Telling

  MIBS = "#{File.join(__dir__, 'mibs')}:#{File.join(ROOT, 'docs')}".freeze

  def setup
    super
    Store::Setting.set("address", "https://logs.tarnholm.example")
    import_text("<11>1 2026-11-22T06:01:20Z alder app 1 - - refused\n")
  end

  def test_a_mail_server_of_ruby_hands_over_what_the_mail_gem_reads
    caught = []
    port = Ports.take
    server = Standins::Catchers::Mailbox.new(port) { |to, data| caught << [to, data] }
    server.start
    place = { "MAIL_SERVER" => "127.0.0.1:#{port}", "MAIL_FROM" => "watch@tarnholm.example" }
    with_settings(place.transform_keys { |name| "NORTHDRIFT_#{name}" }) do
      on_call = route
      raise_alert
      tell(on_call)
    end
    assert_equal ["oncall@tarnholm.example"], caught.sole.first
    mail = Mail.read_from_string(caught.sole.last)
    assert_equal [["watch@tarnholm.example"], "error: Many refused, alder"], [mail.from, mail.subject]
    assert_match(/@tarnholm\.example\z/, mail.message_id)
    assert_includes mail.text_part.decoded, "https://logs.tarnholm.example/alerts?show=all&alert=1"
  ensure
    server&.stop(wait_seconds_before_close: 0, gracefully: false)
  end

  # RFC 9421: the base is made anew from what came in, as its section 2.5 says, and hashed by openssl(1).
  def test_a_hook_is_signed_as_openssl_signs
    hook = Server::Sending::Outlets::Hook.new({ "url" => "https://desk.example/in?x=1", "secret" => "salt and water" })
    post = hook.request(Server::Sending::Contents.message("id-1", "raised", [raise_alert]))
    parameters = post["signature-input"].delete_prefix("northdrift=")
    assert_match(
      /\A\("@method" "@target-uri" "content-digest" "idempotency-key"\);created=\d+;alg="hmac-sha256"\z/, parameters
    )
    base = <<~BASE.chomp
      "@method": POST
      "@target-uri": https://desk.example/in?x=1
      "content-digest": #{post['content-digest']}
      "idempotency-key": "id-1"
      "@signature-params": #{parameters}
    BASE
    assert_equal post["signature"], "northdrift=:#{openssl(base, '-hmac', 'salt and water')}:"
    assert_equal post["content-digest"], "sha-256=:#{openssl(post.body)}:"
  end

  def openssl(text, *options)
    bytes, status = Open3.capture2("openssl", "dgst", "-sha256", "-binary", *options, stdin_data: text, binmode: true)
    assert_predicate status, :success?
    [bytes].pack("m0")
  end

  def test_a_datagram_of_syslog_is_read_by_another_reader
    socket = UDPSocket.new
    socket.bind("127.0.0.1", 0)
    outlet = Server::Sending::Outlets::Syslog.new(
      { "host" => "127.0.0.1", "port" => socket.addr[1], "transport" => "udp" }, clock: clock
    )
    alert = raise_alert("al\"d]er")
    outlet.send_off(Server::Sending::Contents.message("id-1", "raised", [alert]), Sending::Template.new, "")
    assert socket.wait_readable(10)
    record = socket.recvfrom(4096).first
    other = Syslog::Parser.new.parse(record.dup.force_encoding("UTF-8"))
    assert_equal ["northdrift", "alert", (14 * 8) + 3], [other.app_name, other.msgid, other.prival]
    assert_includes record, 'machine="al\"d\]er"'
    element = other.structured_data.sole
    assert_equal ["alert@32473", "Many refused"], [element.id, element.params["rule"]]
  ensure
    socket&.close
  end

  def test_a_stream_of_syslog_is_counted_by_octets
    server = TCPServer.new("127.0.0.1", 0)
    taken = Thread.new { server.accept.read }
    outlet = Server::Sending::Outlets::Syslog.new(
      { "host" => "127.0.0.1", "port" => server.addr[1], "transport" => "tcp" }, clock: clock
    )
    outlet.send_off(Server::Sending::Contents.message("id-1", "back", [raise_alert]), Sending::Template.new, "")
    size, record = taken.value.split(" ", 2)
    assert_equal Integer(size), record.bytesize
    assert record.start_with?("<#{(14 * 8) + 5}>1 ") # back to normal: notice
  ensure
    server&.close
  end

  # snmptrapd(8) writes the names that our MIB has.
  def test_a_trap_is_read_by_net_snmp_with_our_mib
    port = Ports.take
    config = write("snmptrapd.conf", "disableAuthorization yes\n")
    log = File.join(@dir, "traps")
    pid = Process.spawn(
      { "MIBS" => "NORTHDRIFT-MIB", "MIBDIRS" => MIBS, "SNMP_PERSISTENT_DIR" => @dir }, "/usr/sbin/snmptrapd", "-f",
      "-C", "-c", config, "-Lf", log, "-OQ", "127.0.0.1:#{port}", out: File::NULL, err: File::NULL
    )
    eventually("the receiver's first words") { File.exist?(log) && File.read(log).include?("NET-SNMP") }
    outlet = Server::Sending::Outlets::Trap.new({ "host" => "127.0.0.1", "port" => port, "secret" => "public" })
    outlet.send_off(Server::Sending::Contents.message("id-1", "raised", [raise_alert]), nil, "")
    told = eventually("the trap") { File.read(log)[/.*alertLink.*/] }
    ["alertRaised", "alertRule.0 = Many refused", "alertSeverity.0 = error", "alertWhere.0 = alder",
     "alertLink.0 = https://logs.tarnholm.example/alerts?show=all&alert=1"].each { |part| assert_includes told, part }
  ensure
    Process.kill(:TERM, pid) && Process.wait(pid) if pid
  end

  def test_net_snmp_reads_our_mib_without_a_complaint
    said, status = Open3.capture2e(
      "snmptranslate", "-M", MIBS, "-m", "NORTHDRIFT-MIB", "-On", "-Pw", "NORTHDRIFT-MIB::alertBack"
    )
    assert_equal [".1.3.6.1.4.1.32473.1.0.2\n", true], [said, status.success?]
    numbers = Server::Sending::Outlets::Trap
    assert_equal numbers::NOTIFICATIONS.fetch("back"), said.strip.delete_prefix(".")
  end
end
