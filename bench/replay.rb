# frozen_string_literal: true

ENV["BUNDLE_GEMFILE"] ||= File.expand_path("../Gemfile", __dir__)
require "bundler/setup"
require "tmpdir"
require_relative "../northdrift"

# What the alert rules that ship raise of lines that are stored, and whom a route would have told: in order of time,
# through the very code that watches and plans.
module Replay
  include Northdrift

  RULES = Northdrift::Watch::Catalogue.families.flat_map(&:rules).each_with_index.map do |given, at|
    Northdrift::Watch::Rule.new(given.merge("id" => (at + 1).to_s))
  end
  SECOND = 1_000_000
  # An alert that began so long behind an incident is still of it.
  AFTER_US = 1800 * SECOND

  module_function

  # @return [Array<Northdrift::Store::Alert>]
  def raised(from_us, to_us)
    found = RULES.flat_map do |rule|
      Northdrift::Store::AlertTrial.new(rule, from_us, to_us).found.map { |one| [rule, one] }
    end
    now_us = 0
    planner = Northdrift::Server::Sending::Planner.new(clock: -> { now_us })
    route
    found.sort_by { |_, one| one.span.raised_us }.each do |rule, one|
      now_us = one.span.raised_us
      Northdrift::Store::Database.step { Northdrift::Store::Alert.note(rule, one.key, [one.span], now_us) }
      while planner.step; end
    end
    Northdrift::Store::Alert.order(:raised_us).to_a
  end

  # One person is told of errors and worse, by mail.
  def route
    Northdrift::Store::AlertRoute.new(name: "on call", kind: "mail", enabled: true, created_us: 0, changed_us: 0)
      .tap { |one| one.given = { "to" => ["oncall@example.org"] } }
      .tap { |one| one.wanted = { "severity" => "error" } }
      .save!
  end

  # @return [Integer] mails that were planned of alerts
  def mails(alerts) = Northdrift::Store::AlertDelivery.where(alert_id: alerts.map(&:id)).count

  # @return [Array<Northdrift::Store::Alert>] that nobody would want: warnings and worse, folded under none
  def false_ones(alerts) = alerts.select { |one| one.root_id.nil? && one.severity <= Northdrift::Severity::WARNING }

  def overlaps?(one, from_us, to_us) = one.last_us >= from_us && one.raised_us <= to_us + AFTER_US

  # Runs a block in a process and a folder of its own, since there is one database to a process.
  # @return [Object] what the block gave, through JSON
  def apart
    reader, writer = IO.pipe
    pid = fork do
      Dir.mktmpdir { |dir| writer.puts(Oj.dump(yield(dir), mode: :strict)) }
      writer.close
      exit!(0)
    end
    writer.close
    told = reader.read
    Process.wait(pid)
    abort "a replay failed" if told.empty?
    Oj.load(told, mode: :strict)
  end
end
