# frozen_string_literal: true

require_relative "../test_helper"

# Records of the Linux audit system, whose texts stand in quotes or in hexadecimal (audit_log_untrustedstring() and the
# record types of the Linux audit documentation, from memory; names are made up).
class LinuxAuditTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  AT = "1795461363.243:24287"
  EVENT = <<~TEXT.freeze
    type=SYSCALL msg=audit(#{AT}): arch=c000003e syscall=59 success=yes exit=0 a0=7f a1=8 ppid=2686 pid=3538 auid=1000 uid=0 tty=pts0 ses=4 comm="cat" exe="/usr/bin/cat" key="watch"\x1DARCH=x86_64 SYSCALL=execve AUID="ida" UID="root"
    type=EXECVE msg=audit(#{AT}): argc=3 a0="cat" a1="-n" a2=2F746D702F6120622E747874
    type=CWD msg=audit(#{AT}): cwd="/home/ida"
    type=PATH msg=audit(#{AT}): item=0 name="/usr/bin/cat" inode=1 nametype=NORMAL
    type=PATH msg=audit(#{AT}): item=1 name=2F746D702F6120622E747874 nametype=NORMAL
    type=PATH msg=audit(#{AT}): item=2 name="/lib/ld.so" nametype=NORMAL
    type=PROCTITLE msg=audit(#{AT}): proctitle=636174002D6E002F746D702F6120622E747874
    type=EOE msg=audit(#{AT}):\x20
  TEXT

  def test_a_command_and_the_files_that_it_opened
    fields =
      records(EVENT).then do |events|
        events.first.fields.transform_values { |value| value.is_a?(String) ? Text.utf8(value) : value }
      end
    assert_equal [
      "cat -n /tmp/a b.txt", "cat -n /tmp/a b.txt", "/home/ida", "/usr/bin/cat", "/tmp/a b.txt",
      "/lib/ld.so"
    ],
                 fields.values_at(
                   "process.command_line", "process.title", "cwd", "file.path", "file.path.1", "file.path.2"
                 )
    assert_equal %w[ida root 1000 7f execve watch],
                 fields.values_at("audit.login.name", "user.name", "audit.login.id", "a0", "SYSCALL", "audit.key")
    assert_equal EVENT, whole(records(EVENT))
  end

  # The program that opened a file may be one of its event's files too.
  def test_a_file_that_is_named_elsewhere_as_well
    event =
      records(
        "type=SYSCALL msg=audit(#{AT}): comm=\"cp\" exe=\"/bin/cp\"\ntype=PATH msg=audit(#{AT}): item=0 " \
        "name=\"/a\"\ntype=PATH msg=audit(#{AT}): item=1 name=\"/bin/cp\"\ntype=PATH msg=audit(#{AT}): item=2 " \
        "name=\"/a\"\n"
      ).first
    assert_equal ["/a", "/bin/cp", nil], event.fields.values_at("file.path", "file.path.1", "file.path.2")
  end

  def test_a_command_by_sudo
    line =
      "type=USER_CMD msg=audit(#{AT}): pid=77 uid=1000 auid=1000 ses=4 msg='cwd=\"/home/ida\" " \
      "cmd=73797374656D63746C20726573746172742062 exe=\"/usr/bin/sudo\" terminal=pts/0 res=success'"
    event = read(line)
    assert_equal ["systemctl restart b", "success", "informational"],
                 [*event.fields.values_at("process.command_line", "event.outcome"), Severity.name(event.severity)]
    assert_equal "/bin/ls", read(line.sub(/cmd=\h+/, 'cmd="/bin/ls"')).fields["process.command_line"]
  end

  # What the kernel does with a text that a program named: quotes where it is harmless, hexadecimal where it is not.
  def named(text)
    text.bytes.any? { |byte| byte < 0x21 || byte > 0x7e || byte == 34 } ? text.unpack1("H*").upcase : "\"#{text}\""
  end

  def test_whatever_a_program_names_comes_out_as_it_was
    random = Random.new(29)
    parts = [
      "cat", "CAFE", "12AB", "a b", "tab\tx", "quote\"s", "naïve", "жук", "/tmp/x=y", "semi;colon", "new\nline", "=",
      "it's", "{x}", "\u{1F980}"
    ]
    400.times do
      text = Array.new(random.rand(1..3)) { parts.sample(random: random) }.join([" ", "/", ""].sample(random: random))
      %w[comm exe name cwd].each do |key|
        field = {
          "comm" => "process.executable.name", "exe" => "process.executable.path", "name" => "file.path", "cwd" => "cwd"
        }.fetch(key)
        line = "type=X msg=audit(#{AT}): pid=1 #{key}=#{named(text)} ses=4"
        assert_equal text, Text.utf8(read(line).fields[field]), line
      end
    end
  end

  # Numbers of a system call are no texts, whatever they look like.
  def test_numbers_stay_what_they_are
    fields = read("type=SYSCALL msg=audit(#{AT}): a0=7F45 a1=41 exit=1234 comm=\"6C73\" pid=4142").fields
    assert_equal %w[7F45 41 1234 6C73 4142],
                 fields.values_at("a0", "a1", "exit", "process.executable.name", "process.pid")
  end

  {
    "AVC msg=audit(#{AT}): avc:  denied  { read } for  pid=1234 comm=\"httpd\" name=\"shadow\"" => [
      "warning", "httpd", "shadow", nil
    ],
    "USER_AUTH msg=audit(#{AT}): pid=9 uid=0 msg='op=PAM:authentication acct=\"root\" exe=\"/usr/sbin/sshd\" " \
    "addr=10.0.0.9 terminal=ssh res=failed'" => [
      "warning", nil, nil, "10.0.0.9"
    ],
    "USER_LOGIN msg=audit(#{AT}): pid=9 uid=0 msg='op=login acct=6A616E206C exe=\"/usr/sbin/sshd\" addr=10.0.0.9 " \
    "res=success'" => [
      "informational", nil, nil, "10.0.0.9"
    ], "SYSCALL msg=audit(#{AT}): success=no exit=-13 comm=\"cat\"" => ["informational", "cat", nil, nil]
  }.each_with_index do |(record, expected), index|
    define_method("test_record_#{index}") do
      event = read("type=#{record}")
      assert_equal expected,
                   [
                     Severity.name(event.severity),
                     *event.fields.values_at("process.executable.name", "file.path", "source.address")
                   ], record
    end
  end

  # Records of two events come between each other when two processors write.
  def test_records_of_different_events_stay_apart
    text =
      "type=SYSCALL msg=audit(1795461363.243:1): comm=\"a\"\ntype=CWD msg=audit(1795461363.243:1): " \
      "cwd=\"/a\"\ntype=SYSCALL msg=audit(1795461363.243:2): comm=\"b\"\ntype=CWD msg=audit(1795461363.244:2): " \
      "cwd=\"/b\"\n"
    events = records(text)
    assert_equal([2, 1, 1], events.map { |event| event.raw.lines.size })
    assert_equal(["/a", nil, "/b"], events.map { |event| event.fields["cwd"] })
  end
end
