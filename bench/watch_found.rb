# frozen_string_literal: true

# What the alert rules that ship raise of days whose incidents are known: the demo's ten days, and incidents that nobody
# wrote. An alert belongs to an incident when it lasted within its time, or began up to half an hour behind it; of
# others, those that are warnings or worse are false. What is unusual without a rule is counted likewise.
#
#   bench/watch found [incidents=20] [first seed=1]
require_relative "replay"

COUNT = Integer(ARGV.fetch(0, 20))
SEED = Integer(ARGV.fetch(1, 1))
STALL = "ticket hall stall"
# What was planted in the demo's days (demo/incidents.rb, demo/troubles.rb): days before today, from and to, where.
PLANTED = [
  [STALL, 1, "06:09", "06:21", nil], ["mail-1 fills its disk", 1, "15:30", "17:25", "mail-1"],
  ["chatty firmware", 2, "13:05", "18:11", "gate-tar-1"], ["printer goes quiet", 2, "09:10", "17:20", "print-01"],
  ["guessing at the bastion", 2, "02:40", "02:55", "bastion-1"],
  ["kiosk loses power", 3, "16:30", "16:50", "hall-kiosk-3"], ["leases run dry", 3, "09:10", "14:10", nil],
  ["gate-tar-1 panics", 4, "11:00", "11:20", "gate-tar-1"], ["memory of hv-2", 5, "14:15", "14:40", nil],
  ["radio fade", 8, "15:00", "17:05", nil], ["certificate runs out", 4, "00:00", "07:35", "gate-auk-1"]
].freeze

# An incident whose time is known.
Known = Struct.new(:name, :machine, :from_us, :to_us) do
  def of(alerts)
    alerts.select { |one| Replay.overlaps?(one, from_us, to_us) && (machine.nil? || one.machine == machine) }
  end

  # Of what is unusual.
  def unusual?(one) = one.last_us >= from_us && one.from_us <= to_us + Replay::AFTER_US
end

def known(now)
  midnight = Time.utc(now.year, now.month, now.day)
  PLANTED.map do |name, ago, from, to, machine|
    Known.new(name, machine, *[from, to].map do |clock|
      hour, minute = clock.split(":").map(&:to_i)
      ((midnight - (ago * 86_400) + (hour * 3600) + (minute * 60)).to_r * Replay::SECOND).to_i
    end)
  end
end

def clock(time_us) = Time.at(0, time_us, :usec).utc.strftime("%F %R")

def demo_days(dir)
  now = Time.now.utc
  Northdrift::Demo::Builder.build(dir, now: now)
  now_us = (now.to_r * Replay::SECOND).to_i
  alerts = Replay.raised(now_us - (10 * 86_400 * Replay::SECOND), now_us)
  planted = known(now)
  odd = Northdrift::Store::Oddity.where("priority >= ?", Northdrift::Unusual::Priority::LISTED).to_a
  apart = Replay.false_ones(alerts).reject { |one| planted.any? { |each| each.of([one]).any? } }
  other = odd.reject { |one| planted.any? { |each| each.unusual?(one) } }
  { "known" => planted.map { |one| row(one, alerts, odd) },
    "false" => apart.map { |one| "#{one.name}, #{one.machine}, #{clock(one.raised_us)}" },
    "odd" => other.map { |one| "#{one.says}, #{clock(one.from_us)}" } }
end

def row(one, alerts, odd)
  own = one.of(alerts)
  { "name" => one.name, "alerts" => own.size, "apart" => own.count { |each| each.root_id.nil? },
    "mails" => Replay.mails(own), "names" => own.map(&:name).uniq,
    "odd" => odd.count { |each| one.unusual?(each) && (one.machine.nil? || each.machine == one.machine) } }
end

def made_up(dir, roster, seed, day)
  incident = Northdrift::Standins::MadeUpIncident.new(roster, seed: seed, day: day)
  path = File.join(dir, "all.log")
  File.write(path, incident.text)
  Northdrift::Store::Database.open(File.join(dir, "data"))
  Northdrift::Intake::Importer.new.import(Northdrift::Intake::Parts.new([path]))
  Northdrift::Store::Fleet.keep(roster)
  at_us = (incident.at.to_r * Replay::SECOND).to_i
  alerts = Replay.raised(*Northdrift::Store::Span.all)
  told_of(incident, Known.new("", nil, at_us, at_us), alerts)
end

# Its lines begin seven hours before, and end an hour and a half behind it.
HOURS = 8.5

def told_of(incident, known, alerts)
  own = known.of(alerts).select { |one| one.severity <= Northdrift::Severity::WARNING }
  { "troubled" => incident.troubled, "found" => own.any? { |one| one.machine == incident.troubled },
    "apart" => own.count { |one| one.root_id.nil? }, "mails" => Replay.mails(own), "names" => own.map(&:name).uniq,
    "false" => Replay.false_ones(alerts - own).size }
end

told = Replay.apart { |dir| demo_days(dir) }
puts "The demo's ten days, #{Replay::RULES.size} rules:"
told["known"].each do |one|
  puts format("  %-24s %2d alerts, %d not folded, %d mails, %2d unusual: %s",
              *one.values_at("name", "alerts", "apart", "mails", "odd"), one["names"].first(4).join(", "))
end
found = told["known"].count { |one| one["alerts"].positive? }
puts "  incidents found: #{found} of #{PLANTED.size}; mails of the #{STALL}: " \
     "#{told['known'].find { |one| one['name'] == STALL }['mails']}"
{ "false alerts" => "false", "unusual that belongs to none" => "odd" }.each do |says, key|
  puts format("  %s: %d, %.1f a day", says, told[key].size, told[key].size / 10.0)
  told[key].each { |one| puts "    #{one}" }
end

roster = Northdrift::Fleet::Roster.read(File.read(File.join(Northdrift::ROOT, "demo/roster.csv")))
today = Time.now.utc
day = Time.utc(today.year, today.month, today.day) - (2 * 86_400)
all = (SEED...(SEED + COUNT)).map { |seed| Replay.apart { |dir| made_up(dir, roster, seed, day) } }
puts "#{COUNT} incidents that nobody wrote:"
all.each_with_index do |one, at|
  puts format("  %4d  %-14s %-9s %2d not folded, %d mails, %d false: %s", SEED + at, one["troubled"],
              one["found"] ? "found" : "not found", one["apart"], one["mails"], one["false"], one["names"].join(", "))
end
puts format("  incidents found: %d of %d; false alerts: %.1f a day", all.count { |one| one["found"] }, COUNT,
            all.sum { |one| one["false"] } * 24 / (HOURS * COUNT))
