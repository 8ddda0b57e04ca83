# frozen_string_literal: true

# What alert rules cost the intake, and how soon an alert is raised: lines over TCP as fast as they are taken, without
# rules and with them, by turns. With them, a line that raises an alert comes every two seconds.
#
#   bench/watch cost [rules=500] [seconds=20] [rounds=3]
require "json"
require "yaml"
require_relative "support"

RULES = Integer(ARGV.fetch(0, 500))
SECONDS = Integer(ARGV.fetch(1, 20))
ROUNDS = Integer(ARGV.fetch(2, 3))
LINES = 200_000
FRAME = 2000
PROBE = "probezz"
WORDS = %w[lease voucher berth refused disk queue gate kiosk replica session token cache upload parser].freeze
# Of several kinds, most of which few lines are about: words, a machine, severities, an expression. They seldom hold, as
# rules do that people keep.
FORMS = [
  ->(at, word, _) { "#{word} nr#{at}" }, ->(_, word, other) { "\"#{word} #{other}\" severity >= error" },
  ->(at, word, _) { "host.name = db-#{at} #{word}" }, ->(at, word, _) { "message ~ /#{word}#{at} \\d+/" },
  ->(at, _, _) { "severity <= critical host.name = web-#{at}" }
].freeze

def rule(name, find, least)
  { "name" => name, "when" => { "count" => { "find" => find, "at_least" => least, "within" => "5min",
                                             "by" => ["host.name"] } } }
end

rules = Array.new(RULES) do |at|
  rule("rule #{at}", FORMS[at % FORMS.size].call(at, WORDS[at % WORDS.size], WORDS[(at * 3) % WORDS.size]), 30)
end
frames = File.foreach(Bench.file(LINES), chomp: true).each_slice(FRAME).map do |slice|
  slice.map { |line| "#{line.bytesize} #{line}" }.join
end

def probe(port, number)
  time = Time.now.utc.strftime("%Y-%m-%dT%H:%M:%S.%6NZ")
  TCPSocket.open("127.0.0.1", port) { |socket| socket.puts("<13>1 #{time} probe-#{number} app - - - #{PROBE}") }
end

# @return [Array(Float, Float, String)] lines a second, lines a second of the processor, and the data folder
def intake(name, frames, file)
  data = File.join(Bench::DIR, "watch-#{name}")
  FileUtils.rm_rf(data)
  tcp = TCPServer.open("127.0.0.1", 0) { |server| server.addr[1] }
  system(Bench::NORTHDRIFT, "feed", "add", "tcp", "--port", tcp.to_s, "--data", data, out: File::NULL, exception: true)
  system(Bench::NORTHDRIFT, "rule", "import", file, "--on", "--data", data, out: File::NULL, exception: true) if file
  port = Bench.serve(data)
  # What is done once, at the start, is no cost of lines, and upkeep works on what was stored before, in its own time.
  sleep 8
  Bench.halt("northdrift: upkeep")
  [*flood(tcp, port, frames, file), data]
ensure
  Bench.stop_server
end

def flood(tcp, port, frames, probe)
  started = Bench.clock
  worked = Bench.processor_seconds
  probes = Thread.new { (1..).each { |number| [probe(tcp, number), sleep(2)] } } if probe
  socket = TCPSocket.new("127.0.0.1", tcp)
  frames.cycle do |frame|
    break if Bench.clock - started >= SECONDS

    socket.write(frame)
  end
  probes&.kill
  there = JSON.parse(Net::HTTP.get(URI("http://127.0.0.1:#{port}/api/status")))["lines"]
  took = Bench.clock - started
  worked = Bench.processor_seconds - worked
  sleep 8 if probe
  [there / took, there / worked]
end

file = File.join(Bench::DIR, "rules.yml")
File.write(file, YAML.dump("rules" => [*rules, rule("probe", PROBE, 1)]))
told = "SELECT created_us - raised_us FROM alerts WHERE name = 'probe' ORDER BY 1"
late = []
alone, watched = Array.new(ROUNDS) do
  without = intake("alone", frames, nil)
  *with, data = intake("rules", frames, file)
  late += IO.popen(["sqlite3", "-readonly", File.join(data, "northdrift.db"), told], &:readlines).map(&:to_i)
  [without.first(2), with]
end.transpose
abort "no alert was raised" if late.empty?
late.sort!
["lines/s", "lines a second of the processor"].each_with_index do |says, at|
  one, other = [alone, watched].map { |all| all.sum { |round| round[at] } / ROUNDS }
  puts format("without rules %d %s, with %d rules %d: %.2f of it", one, says, rules.size, other, other / one)
end
puts format("%d alerts of a line each: %.2f s after it (median), %.2f s (p95)", late.size, late[late.size / 2] / 1e6,
            late[((late.size * 0.95).ceil - 1)] / 1e6)
