# frozen_string_literal: true

require "csv"
require "roo"
require_relative "../test_helper"
require_relative "../server/asking"

# Figures of cards as files, read by other programs: CSV by Ruby's csv (RFC 4180), XLSX by roo (ECMA-376), and held
# against what awk counts in the same lines.
class FiguresTest < Northdrift::AskingTest
  include Northdrift

  HOSTS = ["alder", "birch", "=1+1"].freeze
  LINES = Array.new(60) do |at|
    %(<14>1 2026-11-22T06:#{format('%02d', at)}:00Z oak shop 1 - - user.name="#{HOSTS[at % 3]}" took_ms=#{at}\n)
  end.join

  def setup
    super
    @file = File.join(@dir, "lines.log")
    File.write(@file, LINES)
    import(@file)
  end

  def figures(form, drawing, query, **further)
    card = { "id" => "a", "title" => "By: user/1", "drawing" => drawing, "query" => query }
    body = { "definition" => { "title" => "x", "cards" => [card] }, "form" => form }.merge(further)
    post("/api/boards/figures", JSON.generate(body), HOST.merge("CONTENT_TYPE" => "application/json"))
    assert_equal 200, last_response.status, last_response.body
    last_response.body
  end

  # @return [Hash{String=>Integer}]
  def awk(program)
    text, = Open3.capture2("awk", "-F\"", program, @file)
    text.lines.to_h { |line| line.chomp.split("\t") }.transform_values(&:to_i)
  end

  def test_a_table_of_groups
    rows = CSV.parse(figures("csv", "table", "measure=count+by+user.name"), headers: true)
    assert_equal %w[user.name count], rows.headers
    told = rows.to_h { |row| [row["user.name"].delete_prefix("'"), row["count"].to_i] }
    assert_equal awk('{ n[$2]++ } END { for (k in n) print k "\t" n[k] }'), told
    refute(rows.any? { |row| row["user.name"].start_with?("=") }, "nothing is computed")
  end

  def test_the_same_as_a_workbook
    path = File.join(@dir, "figures.xlsx")
    File.binwrite(path, figures("xlsx", "table", "measure=count+by+user.name"))
    book = Roo::Excelx.new(path)
    rows = book.sheet(0).to_a
    assert_equal [["By  user 1"], %w[user.name count]], [book.sheets, rows.shift]
    assert_equal awk('{ n[$2]++ } END { for (k in n) print k "\t" n[k] }'), rows.to_h
    at = rows.index { |row| row[0] == "=1+1" } + 2
    assert_nil book.formula(at, 1)
  end

  # Steps downward in the reader's zone, groups beside each other.
  def test_a_chart_by_time
    from_us = Time.utc(2026, 11, 22, 6).to_i * 1_000_000
    text = figures("csv", "line", "measure=count+by+user.name+per+10+min", zone: "Europe/Oslo", from_us: from_us,
                                                                           to_us: from_us + 3_600_000_000)
    rows = CSV.parse(text, headers: true)
    assert_equal ["2026-11-22T07:00:00+01:00", 6], [rows.first["time"], rows.size]
    wanted = awk('$2 == "birch" { n[substr($1, 21, 1)]++ } END { for (k in n) print k "\t" n[k] }')
    assert_equal wanted, rows.each_with_index.to_h { |row, at| [at.to_s, row["birch"].to_i] }.slice(*wanted.keys)
    assert_equal(60, rows.sum { |row| row.fields.drop(1).sum(&:to_i) })
  end

  # Each kind of card has figures.
  def test_every_kind_has_its_figures
    drawings = Northdrift::Boards::Drawing::ALL.select { |_, one| one.asks }.keys
    sizes = drawings.to_h { |drawing| [drawing, CSV.parse(figures("csv", drawing, "")).map(&:size).uniq] }
    sizes.each { |drawing, widths| assert_equal 1, widths.size, "rows of #{drawing} are as wide as its headings" }
  end

  def test_what_has_no_figures
    text = { "definition" => { "title" => "x", "cards" => [{ "id" => "a", "drawing" => "text" }] } }
    assert_equal [400, "definition"], post_to("/api/boards/figures", text).values_at("status", "parameter")
    number = { "definition" => { "title" => "x", "cards" => [{ "id" => "a", "drawing" => "number" }] } }
    assert_equal [400, "form"],
                 post_to("/api/boards/figures", number.merge("form" => "doc")).values_at("status", "parameter")
    number["definition"]["cards"][0]["query"] = "find=%28"
    assert_equal 422, post_to("/api/boards/figures", number)["status"]
  end
end
