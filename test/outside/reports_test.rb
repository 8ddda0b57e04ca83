# frozen_string_literal: true

require_relative "../test_helper"
require "kramdown"
require "kramdown-parser-gfm"
require "nokogiri"
require "open3"
require "pdf-reader"

# Reports of cases, read by what others wrote: an HTML parser, a Markdown processor, a PDF reader, and sha256sum for the
# hashes. Log text is hostile: nothing of it may become markup.
class ReportsTest < Minitest::Test
  include Northdrift

  HOSTILE = "user <script>alert(1)</script> & <img src=x onerror=y> **bold** [x](javascript:y) `code` \e[31m"
  RAW = "Nov 21 06:14:26 alder app: #{HOSTILE}".b

  def report
    pin =
      Cases::Report::Pin.new(
        at_us: 1_763_705_666_000_000, told_us: 1_763_705_666_000_000, kind: "line", machine: "alder", severity: 3,
        text: HOSTILE, note: HOSTILE, raw: RAW, sha256: Digest::SHA256.hexdigest(RAW), source: "app.log:7"
      )
    chart =
      Cases::Report::Pin.new(
        at_us: 1_763_705_666_000_001, told_us: 1_763_705_666_000_001, kind: "chart", text: "severity >= error",
        note: "",
        chart:
          Cases::Report::Chart.new(1_763_705_660_000_000, 1_000_000, [[0, 0, 0, 2, 0, 0, 5, 0, 0], Array.new(9, 0)])
      )
    Cases::Report.new(
      number: 4,
      facts: {
        title: HOSTILE, status: "closed", onset_us: 1, cause: "# #{HOSTILE}\n- and so on",
        remedy: "Zurück auf 9000 → gut", effect: "", note: ""
      }, pins: [pin, chart], written_us: 0
    )
  end

  def test_html_has_the_text_and_no_element_of_it
    tree = Nokogiri::HTML5(Server::CaseReport::Html.write(report))
    assert_empty tree.css("script, img, a, b, strong, iframe")
    assert_empty(tree.errors.reject { |error| error.to_s.include?("expected-doctype") })
    shown = tree.text
    [HOSTILE.delete("\e"), "Zurück auf 9000 → gut", "app.log:7"].each do |text|
      assert_includes shown.delete("\u{241B}").gsub("\\x1B", ""), text.delete("\e")
    end
    assert_equal 2, tree.css("svg rect").size
    assert_match(/default-src 'none'/, tree.at_css("meta[http-equiv=Content-Security-Policy]")["content"])
  end

  def test_markdown_has_the_text_and_no_element_of_it
    tree = Nokogiri::HTML5.fragment(Kramdown::Document.new(Cases::Markdown.write(report), input: "GFM").to_html)
    assert_empty tree.css("script, img, a, strong strong, h1 ~ h1")
    assert_includes tree.at_css("h1").text,
                    "<script>alert(1)</script> & <img src=x onerror=y> **bold** [x](javascript:y)"
    assert_includes tree.css("pre").text, "alder app: user <script>"
  end

  def test_pdf_has_the_text
    pages = PDF::Reader.new(StringIO.new(Server::CaseReport::Pdf.write(report))).pages
    text = pages.map(&:text).join(" ").gsub(/\s+/, " ")
    [
      "Case 4: user <script>alert(1)</script>", "Zurück auf 9000", "Timeline", "Evidence", "app.log:7",
      "Lines over time"
    ].each { |words| assert_includes text, words }
  end

  def test_hashes_are_those_of_sha256sum
    sum, = Open3.capture2("sha256sum", stdin_data: RAW, binmode: true)
    assert_includes Cases::Markdown.write(report), sum.split.first
  end
end
