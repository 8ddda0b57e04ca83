# frozen_string_literal: true

require_relative "../test_helper"
require_relative "../server/asking"

# Figures for other tools against OpenMetrics 1.0.0: its grammar ("ABNF") and rules, both from memory; and against what
# grep and the sqlite3 shell count.
class OpenMetricsTest < Northdrift::AskingTest
  include Northdrift

  NAME = "[A-Za-z_:][A-Za-z0-9_:]*"
  TEXT = '(?:[^\n"\\\\]|\\\\[n"\\\\])*'
  LABEL = "[A-Za-z_][A-Za-z0-9_]*=\"#{TEXT}\"".freeze
  NUMBER = '[+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:e[+-]?\d+)?'
  LINE = [
    "# TYPE #{NAME} [a-z]+", "# UNIT #{NAME} [A-Za-z0-9_:]*", "# HELP #{NAME} #{TEXT}",
    "#{NAME}(?:\\{#{LABEL}(?:,#{LABEL})*\\})? #{NUMBER}"
  ].join("|").freeze
  GRAMMAR = /\A(?:(?:#{LINE})\n)*# EOF\n\z/i
  LINES = Array.new(30) do |at|
    host = at % 3 == 0 ? "birch" : "alder"
    "<#{at % 5 == 0 ? 11 : 14}>1 2026-11-22T06:#{format('%02d', at)}:00Z #{host} shop 1 - - took #{at} ms\n"
  end.join
  QUERY = "measure=count+by+host.name"
  CARDS = [
    { "id" => "hosts", "title" => "By \"host\"\\name", "drawing" => "table", "query" => QUERY },
    { "id" => "errors", "title" => "Errors", "drawing" => "number", "query" => "find=severity+>%3D+error" },
    { "id" => "notes", "title" => "Notes", "drawing" => "text", "text" => "x" }
  ].freeze

  def setup
    super
    import_text(LINES)
  end

  def metrics(query = "")
    get("/metrics#{query}", {}, HOST)
    assert_equal 200, last_response.status, last_response.body
    last_response.body
  end

  # @return [Hash{String=>String}] values by name and labels
  def samples(text)
    text.lines.grep_v(/\A#/).to_h { |line| line.chomp.rpartition(" ").values_at(0, 2) }
  end

  def board
    post_to("/api/boards", { "definition" => { "title" => "Shop", "window" => "everything", "cards" => CARDS } })["id"]
  end

  def test_the_text_is_as_its_grammar_says
    text = metrics("?board=#{board}")
    assert_match GRAMMAR, text
    assert_equal "application/openmetrics-text; version=1.0.0; charset=utf-8", last_response.content_type
    types = text.scan(/^# TYPE (\S+) (\S+)$/)
    assert_equal types.map(&:first).uniq, types.map(&:first), "each family once"
    text.scan(/^# UNIT (\S+) (\S+)$/) { |name, unit| assert name.end_with?("_#{unit}"), name }
    assert_equal samples(text).size, text.lines.grep_v(/\A#/).size, "no two samples alike"
    suffixes = { "counter" => "_total", "info" => "_info", "gauge" => "" }
    families = text.split(/^(?=# TYPE )/).reject(&:empty?)
    families.zip(types) do |family, (name, type)|
      family.lines.grep_v(/\A#/).each { |line| assert_match(/\A#{name}#{suffixes.fetch(type)}[{ ]/, line) }
    end
  end

  def test_the_figures_are_those_of_others
    Store::Database.rows("PRAGMA wal_checkpoint(TRUNCATE)")
    rows, = Open3.capture2("sqlite3", File.join(@data, "northdrift.db"), "SELECT count(*) FROM events")
    told = samples(metrics("?board=#{board}"))
    assert_equal rows.to_i, told["northdrift_lines"].to_i
    file = File.join(@dir, "lines.log")
    File.write(file, LINES)
    birches, = Open3.capture2("grep", "-c", " birch ", file)
    errors, = Open3.capture2("grep", "-c", "^<11>", file)
    hosts = 'card="hosts",title="By \\"host\\"\\\\name"'
    assert_equal birches.to_i, told["northdrift_measure{#{hosts},host_name=\"birch\"}"].to_i
    assert_equal errors.to_i, told['northdrift_measure{card="errors",title="Errors"}'].to_i
  end

  def test_who_may_ask
    id = board
    assert_equal 404, get("/metrics?board=77", {}, HOST).status
    Store::Person.add("Ann", role: "administrator")
    assert_equal 401, get("/metrics", {}, HOST).status
    secret = Store::Token.make("x", role: "viewer", days: 1, sight: "host.name = birch").last
    headers = HOST.merge("HTTP_AUTHORIZATION" => "Bearer #{secret}")
    get("/metrics?board=#{id}", {}, headers)
    told = samples(last_response.body)
    assert_equal [10, nil], [told["northdrift_lines"].to_i, told["northdrift_database_bytes"]]
    refute(told.keys.any? { |key| key.include?("alder") })
  end
end
