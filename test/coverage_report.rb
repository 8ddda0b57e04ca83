# frozen_string_literal: true

# Puts together what all processes of the tests have noted (test/coverage_notes.rb), says what share of the house's
# lines they reached, and holds it against test/coverage.txt, which may only rise. With --note it is written there.
require "coverage"
require "simplecov"

root = File.expand_path("..", __dir__)
floor = File.join(__dir__, "coverage.txt")
reached = Hash.new { |all, path| all[path] = [] }
Dir[File.join(root, "tmp/coverage/*")].select { |path| File.file?(path) }.each do |path|
  Marshal.load(File.binread(path)).each { |file, lines| reached[file] |= lines } # rubocop:disable Security/MarshalLoad
end

SimpleCov.root(root)
SimpleCov.coverage_dir("tmp/coverage/report")
SimpleCov.filters.clear
%w[core store intake server].each { |ring| SimpleCov.add_group(ring, %r{\A/?#{ring}/}) }
files = Dir[File.join(root, "{core,store,intake,server}/**/*.rb")] - Dir[File.join(root, "store/migrations/*")]
lines = files.to_h do |path|
  known = reached[path.delete_prefix("#{root}/")].to_set
  counts = Coverage.line_stub(path).map.with_index(1) { |line, number| line && (known.include?(number) ? 1 : 0) }
  [path, { "lines" => counts }]
end
result = SimpleCov::Result.new(lines, command_name: "bin/test")
result.format!
result.groups.each do |ring, some|
  puts format("  %-7s %6.2f %% of %d lines", ring, some.covered_percent, some.lines_of_code)
end
share = result.covered_percent.floor(2)
puts "The tests reach #{share} % of the lines of the house."
least = File.exist?(floor) ? File.read(floor).to_f : 0.0
File.write(floor, "#{[share - 0.3, least].max.round(1)}\n") if ARGV.include?("--note")
abort "Fewer than the #{least} % that test/coverage.txt asks for." if share < least
