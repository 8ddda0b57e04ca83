# frozen_string_literal: true

# What the alert rules that ship raise of the logs that real programs wrote: of daemons that were ended in order,
# killed, and ended in order again (test/outside/recorded/again, each of which died once), and of the others there.
#
#   bench/watch recorded
require_relative "replay"

FOLDER = File.join(Northdrift::ROOT, "test/outside/recorded")
MACHINE = "hall"
# Rules that tell of a daemon that died.
DIED = ["Service crashed", "Service was killed or crashed without a word"].freeze

# @return [Hash] alerts of a file, warnings and worse, and for how many hours it was written
def told(path)
  Replay.apart do |dir|
    Northdrift::Store::Database.open(dir)
    Northdrift::Intake::Importer.new(machine: MACHINE).import(Northdrift::Intake::Parts.new([path]))
    from_us, to_us = Northdrift::Store::Span.all
    next { "alerts" => [], "hours" => 0 } unless from_us

    alerts = Replay.raised(from_us, to_us + 1).select { |one| one.severity <= Northdrift::Severity::WARNING }
    { "alerts" => alerts.map { |one| [one.name, one.keys.last] }, "hours" => (to_us - from_us) / 3.6e9 }
  end
end

again = Dir[File.join(FOLDER, "again/*.log")]
once = Dir[File.join(FOLDER, "*.*")].reject { |path| path.end_with?(".yml") }
of_again, of_once = [again, once].map { |paths| paths.to_h { |path| [File.basename(path), told(path)] } }
silent = of_again.reject { |_, one| one["alerts"].any? { |name, _| DIED.include?(name) } }.keys
puts "daemons that were killed: #{of_again.size - silent.size} of #{of_again.size} found" \
     "#{"; nothing in the log of #{silent.join(', ')} tells it" if silent.any?}"
others = of_again.transform_values { |one| one["alerts"].reject { |told| DIED.include?(told.first) } }
more = of_again.sum { |_, one| [one["alerts"].count { |name, _| DIED.include?(name) } - 1, 0].max }
hours = [*of_again.values, *of_once.values].sum { |one| one["hours"] }
puts format("other alerts, warnings and worse, in %.1f hours of logs: %d", hours,
            more + [*others.values, *of_once.values.map { |one| one["alerts"] }].sum(&:size))
of_once.each { |name, one| one["alerts"].each { |alert| puts "  #{name}: #{alert.join(', ')}" } }
others.each { |name, all| all.each { |alert| puts "  again/#{name}: #{alert.join(', ')}" } }
