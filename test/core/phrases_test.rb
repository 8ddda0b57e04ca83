# frozen_string_literal: true

require_relative "../test_helper"

# Known messages give fields. The lines have the forms of the programs' sources, which stand beside the expressions;
# names and addresses are made up.
class PhrasesTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  LINES = {
    "sshd[7]: Failed password for invalid user ida from 203.0.113.7 port 50110 ssh2" =>
      { "user.name" => "ida", "source.address" => "203.0.113.7", "source.port" => 50_110, "event.outcome" => "Failed",
        "authentication.method" => "password" },
    "sshd[7]: Accepted publickey for ida from 203.0.113.7 port 50110 ssh2: ED25519 SHA256:abc+/x" =>
      { "user.name" => "ida", "tls.client.hash.sha256" => "abc+/x" },
    "sshd[7]: Invalid user ida from 203.0.113.7 port 50110" => { "user.name" => "ida", "source.port" => 50_110 },
    "sshd[7]: Connection closed by authenticating user root 203.0.113.7 port 50110 [preauth]" =>
      { "user.name" => "root", "source.address" => "203.0.113.7" },
    "sshd[7]: Received disconnect from 203.0.113.7 port 50110:11: Bye Bye [preauth]" =>
      { "source.address" => "203.0.113.7", "error.message" => "Bye Bye" },
    "sudo:      ida : 3 incorrect password attempts ; TTY=pts/0 ; PWD=/home/ida ; USER=root ; COMMAND=/usr/bin/id -u" =>
      { "user.name" => "ida", "user.effective.name" => "root", "process.working_directory" => "/home/ida",
        "process.command_line" => "/usr/bin/id -u", "error.message" => "3 incorrect password attempts" },
    "CRON[7]: (root) CMD (   cd / && run-parts --report /etc/cron.hourly)" =>
      { "user.name" => "root", "event.name" => "CMD",
        "process.command_line" => "   cd / && run-parts --report /etc/cron.hourly" },
    "sshd[7]: pam_unix(sshd:session): session opened for user ida(uid=1000) by (uid=0)" =>
      { "user.name" => "ida", "user.id" => 1000, "event.name" => "opened" },
    "useradd[7]: new user: name=ida, UID=1001, GID=1001, home=/home/ida, shell=/bin/sh, from=none" =>
      { "user.name" => "ida", "user.id" => 1001 },
    "systemd[1]: hall.service: Main process exited, code=exited, status=1/FAILURE" =>
      { "systemd.unit" => "hall.service", "process.exit.code" => 1, "service.result" => "exited" },
    "systemd[1]: hall.service: Failed with result 'exit-code'." =>
      { "systemd.unit" => "hall.service", "service.result" => "exit-code" },
    "systemd-logind[7]: New session 12 of user ida." => { "session.id" => "12", "user.name" => "ida" },
    "kernel: Out of memory: Killed process 4711 (halld) total-vm:123456kB, anon-rss:1kB" =>
      { "process.pid" => "4711", "process.executable.name" => "halld", "process.memory_kb" => 123_456 },
    "kernel: EXT4-fs error (device sda1): ext4_lookup:1855: inode #2" => { "device.name" => "sda1" },
    "kernel: halld[4711]: segfault at 0 ip 0000 sp 0000 error 4 in halld[5+1]" =>
      { "process.executable.name" => "halld", "process.pid" => "4711" },
    "postfix/smtp[7]: 4F1B2C0D3E: to=<ida@hall.example>, relay=mx.example[198.51.100.7]:25, delay=1.2, " \
    "delays=0.1/0/1/0.1, dsn=5.1.1, status=bounced (host said: 550 no such user)" =>
      { "mail.queue.id" => "4F1B2C0D3E", "mail.to" => "ida@hall.example", "mail.delay_s" => 1.2,
        "mail.status" => "bounced", "error.message" => "host said: 550 no such user" },
    "postfix/qmgr[7]: 4F1B2C0D3E: from=<kvam@hall.example>, size=812, nrcpt=2 (queue active)" =>
      { "mail.from" => "kvam@hall.example", "mail.size" => 812, "mail.recipients" => 2 },
    "postfix/smtpd[7]: warning: unknown[203.0.113.7]: SASL LOGIN authentication failed: wrong password" =>
      { "client.address" => "203.0.113.7", "authentication.method" => "LOGIN", "event.outcome" => "failed" },
    "named[7]: client @0x7f 203.0.113.7#50110 (hall.example): query: hall.example IN A +E(0)K (192.0.2.1)" =>
      { "client.address" => "203.0.113.7", "dns.question.name" => "hall.example", "dns.question.type" => "A" },
    "dnsmasq[7]: query[AAAA] hall.example from 192.0.2.9" =>
      { "dns.question.type" => "AAAA", "dns.question.name" => "hall.example", "client.address" => "192.0.2.9" },
    "dhcpd[7]: DHCPACK on 192.0.2.9 to 00:00:5e:00:53:01 (gate) via eth0" =>
      { "client.address" => "192.0.2.9", "client.mac" => "00:00:5e:00:53:01", "network.interface.name" => "eth0" },
    "dovecot: imap-login: Login: user=<ida>, method=PLAIN, rip=203.0.113.7, lip=192.0.2.1, mpid=7, session=<x>" =>
      { "user.name" => "ida", "source.address" => "203.0.113.7", "event.name" => "Login" },
    "krb5kdc[7](info): AS_REQ (8 etypes {18 17}) 192.0.2.7: NEEDED_PREAUTH: ida@HALL.EXAMPLE for " \
    "krbtgt/HALL.EXAMPLE@HALL.EXAMPLE, Additional pre-authentication required" =>
      { "client.address" => "192.0.2.7", "event.name" => "NEEDED_PREAUTH", "user.name" => "ida@HALL.EXAMPLE",
        "process.pid" => "7" },
    "exim[7]: 1abcDE-0001aB-Cd <= ida@hall.example H=gate [192.0.2.7] P=esmtps S=812 id=x@y" =>
      { "mail.queue.id" => "1abcDE-0001aB-Cd", "mail.from" => "ida@hall.example", "client.name" => "gate",
        "client.address" => "192.0.2.7", "mail.size" => 812, "mail.message.id" => "x@y" },
    "exim[7]: 1abcDE-0001aB-Cd ** ida@hall.example R=dnslookup T=remote_smtp: 550 No such user" =>
      { "mail.to" => "ida@hall.example", "error.message" => "550 No such user" }
  }.freeze

  LINES.each do |line, fields|
    define_method("test_#{line[0, 60]}") do
      event = read("Nov 22 06:12:08 hall #{line}")
      assert_equal(fields, event.fields.slice(*fields.keys).transform_values { |value| shown(value) })
    end
  end

  def shown(value) = value.is_a?(String) ? Text.utf8(value) : value

  def test_the_process_of_a_line_is_the_one_that_wrote_it
    assert_equal "9", read("Nov 22 06:12:08 hall halld[9]: user=ida").fields["process.pid"]
    killed = read("Nov 22 06:12:08 hall kernel: Out of memory: Killed process 4711 (x)")
    assert_equal "4711", killed.fields["process.pid"]
    refute_includes read("Nov 22 06:12:08 hall other[9]: Failed password for ida from 203.0.113.7 port 1").fields,
                    "user.name", "of sshd alone"
  end

  def test_every_expression_is_one_and_every_group_a_field
    phrases = Reading::Phrases.shipped.phrases
    assert_operator phrases.size, :>, 80
    phrases.each do |phrase|
      assert_predicate phrase.regex, :ok?, phrase.take
      refute_empty phrase.groups.values, phrase.take unless phrase.take.match?(/removed|: '\z/)
    end
  end

  # Any number of lines, read twice, give the same: the table of services is filled on the way.
  def test_threads_share_the_phrases
    lines = LINES.keys.map { |line| "Nov 22 06:12:08 hall #{line}" }
    alone = lines.map { |line| read(line).fields }
    threads = Array.new(4) { Thread.new { lines.shuffle.to_h { |line| [line, read(line).fields] } } }
    threads.each { |thread| assert_equal alone, thread.value.values_at(*lines) }
  end
end
