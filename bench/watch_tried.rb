# frozen_string_literal: true

# How long it takes to try an alert rule on what is stored: the last day, which is told first, and the whole thirty
# days. Beside it what grep takes to count the lines that have the same word, in a file of them.
#
#   bench/watch tried [lines=5000000]
require "json"
require_relative "support"

LINES = Integer(ARGV.fetch(0, 5_000_000))
DAYS = 30
TIMES = 3
# @!attribute word [String, nil] that grep looks for
Tried = Struct.new(:name, :word, :condition)

def count(find, least, by: ["host.name"])
  { "count" => { "find" => find, "at_least" => least, "within" => "5min", "by" => by } }
end

RULES = [
  Tried.new("a phrase, 1 or more", "job is degraded", count("\"job is degraded\"", 1)),
  Tried.new("two words of errors, 3 or more", "voucher", count("voucher refused severity >= error", 3)),
  Tried.new("one machine's warnings, 20 or more", nil, count("host.name = db-1 severity >= warning", 20)),
  Tried.new("a word by user, 10 or more", "manifest", count("manifest", 10, by: [])),
  Tried.new("a common word, 100 or more", "connection", count("connection", 100)),
  Tried.new("refused, then degraded", nil,
            { "sequence" => { "first" => "lease refused", "at_least" => 2, "then" => "lease degraded",
                              "within" => "10min", "by" => ["host.name"] } }),
  Tried.new("a measure, beyond a level", nil,
            { "measure" => { "find" => "reader = json", "of" => "p95(duration_ms)", "above" => "2.5s",
                             "within" => "5min", "by" => ["service.name"] } }),
  Tried.new("silence of a service", nil,
            { "fewer" => { "find" => "service.name = gatectl", "than" => 1, "within" => "10min" } })
].freeze

# @return [Array(Float, Hash)] seconds, and what was told
def try(port, condition, days)
  body = JSON.generate("definition" => { "name" => "x", "when" => condition }, "days" => days)
  started = Bench.clock
  answer = Net::HTTP.start("127.0.0.1", port, read_timeout: 600) do |http|
    http.post("/api/alert-rules/trial", body, "Content-Type" => "application/json")
  end
  abort answer.body unless answer.code == "200"
  [Bench.clock - started, JSON.parse(answer.body)]
end

def median(port, condition, days) = Array.new(TIMES) { try(port, condition, days) }.sort_by(&:first)[TIMES / 2]

data = Bench.database(LINES, days: DAYS)
file = Bench.file(LINES, days: DAYS)
port = Bench.serve(data)
RULES.each do |rule|
  cold, = try(port, rule.condition, 1)
  first, = median(port, rule.condition, 1)
  whole, told = median(port, rule.condition, DAYS)
  grep = rule.word && Bench.watch("grep", "-c", rule.word, file).first
  puts format("%-36s %8d lines %5d alerts; first %.2f s (%.2f s the first time), whole %.2f s%s", rule.name,
              told["lines"], told["alerts"], first, cold, whole,
              grep ? format(": %.2f of grep", whole / grep) : "")
end
