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
    "python-workers.log" => %w[gunicorn-started gunicorn-worker gunicorn-ended], "gateway.log" => %w[uwsgi-started],
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

  # Four processes say that they go; the master says that it came.
  def test_the_processes_of_a_ruby_application
    assert_equal({ "daemons.puma-started" => 1, "daemons.puma-ended" => 2 }, told("ruby-workers.log").map(&:rule).tally)
  end
end
