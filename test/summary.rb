# frozen_string_literal: true

# Says what the tests took that have just run, and which of them were left out or had to be tried again. With --note the
# seconds of each file are kept in test/seconds.txt, by which the next run is spread over processes.
require "json"

folder = File.expand_path("../tmp", __dir__)
rows = Dir[File.join(folder, "times/*.jsonl")].flat_map { |path| File.readlines(path).map { |line| JSON.parse(line) } }
puts "The slowest of #{rows.size} tests, in seconds:"
rows.max_by(15, &:last).each { |_, name, seconds| puts format("  %6.1f  %s", seconds, name) }

if ARGV.include?("--note")
  files = rows.group_by(&:first).transform_values { |some| some.sum(&:last) }
  lines = files.sort.map { |path, seconds| "#{path}:#{seconds.round(1)}\n" }
  File.write(File.expand_path("seconds.txt", __dir__), lines.join)
end

skipped = Dir[File.join(folder, "times/*.skipped")].flat_map { |path| File.readlines(path) }
puts "Left out, since this machine does not have what they need:" if skipped.any?
puts(skipped.sort.map { |line| "  #{line}" })

again = File.join(folder, "failures/tried-again.txt")
tried = File.exist?(again) ? File.readlines(again) : []
puts "No test had to be tried again." if tried.empty?
puts "Tried again, each a fault to be mended (tmp/failures has pictures):" if tried.any?
puts(tried.map { |line| "  #{line}" })

begun, reported = %w[begun jsonl].map { |end_of_name| Dir[File.join(folder, "times/*.#{end_of_name}")].size }
abort "#{begun - reported} of #{begun} processes of tests ended in the midst of them." if reported < begun
