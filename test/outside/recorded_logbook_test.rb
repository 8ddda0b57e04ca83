# frozen_string_literal: true

require_relative "../test_helper"

# That the daemons of the recorded logs came and went, as recorded/record-others had them do: each start and each end is
# told once, and nothing else of that sort.
class RecordedLogbookTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  FOLDER = File.join(__dir__, "recorded")
  KINDS = %w[service-start service-stop service-crash].freeze
  # Those that tell of their end too; the others were ended without a word.
  TOLD = {
    "light-error.log" => %w[lighttpd-started lighttpd-ended], "tiny-proxy.log" => %w[tinyproxy-started tinyproxy-ended],
    "python-workers.log" => %w[gunicorn-started gunicorn-ended], "gateway.log" => %w[uwsgi-started],
    "second-servlets.log" => %w[jetty-started jetty-ended], "second-broker.log" => %w[nats-started nats-ended],
    "chat.log" => %w[prosody-started prosody-ended], "second-chat.log" => %w[ejabberd-started],
    "second-zones.log" => %w[nsd-started nsd-ended], "third-zones.log" => %w[knot-started knot-ended],
    "leases.log" => %w[kea-started kea-ended], "copies.log" => %w[rsyncd-started],
    "second-tunnel.log" => %w[stunnel-started stunnel-ended], "directory.log" => %w[slapd-started slapd-ended],
    "failover.log" => %w[keepalived-started keepalived-ended], "relay.log" => %w[tor-ended],
    "scanner.log" => %w[clamd-started clamd-ended], "registry.json" => %w[etcd-ended],
    "desktops.log" => %w[xrdp-started xrdp-ended], "machines.log" => %w[libvirt-started],
    "exchange.log" => %w[transmission-started], "jobs.log" => %w[celery-started]
  }.freeze

  def told(name)
    events = records(File.binread(File.join(FOLDER, name)), zone: "Europe/Oslo", reference: Time.utc(2026, 11, 29, 12))
    happenings = events.filter_map { |event| Logbook::Catalogue.shipped.read(event, name) }
    happenings.select { |happening| KINDS.include?(happening.kind) }
  end

  TOLD.each do |name, rules|
    define_method("test_#{name}") do
      assert_equal(rules, told(name).map { |one| one.rule.delete_prefix("daemons.") })
    end
  end

  # Each daemon in again/ was ended in order, killed, and ended in order again: its third start is the one before which
  # it had not ended. These tell no end at all, refused to start, or say themselves that they were killed (PostgreSQL).
  SECOND_TIME = 1
  OTHERS = %w[files.log gateway.log leases.log mailbox.log third-zones.log database.log].freeze
  Told = Struct.new(:time_us, :rule, :kind, :machine, :service, :fields, :says, :person)

  def verdicts(name)
    text = File.binread(File.join(FOLDER, "again", name))
    events = records(text, zone: "Europe/Oslo", reference: Time.utc(2026, 11, 29, 12))
    told = events.filter_map do |event|
      event.stand_in("hall")
      one = event.stamped && Logbook::Catalogue.shipped.read(event, name)
      one && Told.new(event.time_us, *one.to_h.values_at(*Told.members.drop(1)))
    end
    Logbook::Verdicts.new(told).services
  end

  Dir[File.join(FOLDER, "again/*.log")].map { |path| File.basename(path) }.each do |name|
    define_method("test_what_was_killed_in_#{name}") do
      found = verdicts(name)
      unended = found.each_index.select { |index| found[index].reason == "unended" }
      assert_equal OTHERS.include?(name) ? [] : [SECOND_TIME], unended
      assert_equal(%w[likely], found.values_at(*unended).map(&:confidence)) if unended.any?
    end
  end

  # Four processes say that they go; the master says that it came.
  def test_the_processes_of_a_ruby_application
    assert_equal({ "daemons.puma-started" => 1, "daemons.puma-ended" => 2 }, told("ruby-workers.log").map(&:rule).tally)
  end
end
