# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"
require "json"
require "net/http"

# Whoever writes a line decides about its text. Nothing of it may do anything in a page, or keep a page from being read.
class HostilePagesTest < Northdrift::BrowserTest
  plays demo: false

  HARM = '<img src=x onerror="window.harm=1"><script>window.harm=2</script>'
  MANY = (1..250).to_h { |index| ["field_#{index}", index] }
  TIME = "2026-11-22T06:12"
  LINES = [
    JSON.generate(
      "time" => "#{TIME}:01Z", "level" => "error", "msg" => "markup #{HARM}", "host" => HARM, "service" => HARM,
      "k #{HARM}" => HARM
    ),
    JSON.generate(
      "time" => "#{TIME}:02Z", "msg" => "other direction \u{202E}gnp.exe\u{202C} and \u{200F}back",
      "user" => "\u{202E}adi"
    ), JSON.generate("time" => "#{TIME}:03Z", "msg" => "long #{'word ' * 40_000}", "value" => "x" * 50_000),
    JSON.generate({ "time" => "#{TIME}:04Z", "msg" => "many fields" }.merge(MANY)),
    JSON.generate(
      "time" => "#{TIME}:05Z", "msg" => "controls \u0000\u0007\u001B[31mred\u001B[0m\u009B5m", "k\u001B[2J" => "\u0000"
    ),
    JSON.generate(
      "time" => "#{TIME}:06Z",
      "msg" =>
        "combining Z\u0351\u036B\u0343\u036A\u0302\u036B\u033D\u034F\u0334\u0319" \
        "\u0324\u031E\u0349\u035A\u032F\u031E\u0320\u034D and 👩‍👩‍👧‍👦 and 🇳🇴"
    ), JSON.generate("time" => "#{TIME}:07Z", "msg" => "", "only" => "fields"),
    JSON.generate(
      "time" => "#{TIME}:08Z", "msg" => "deep", "a" => 11.times.inject("end") { |inner, _| { "a" => inner } }
    ),
    JSON.generate(
      "time" => "#{TIME}:09Z", "msg" => "names", "__proto__" => "p", "constructor" => "c", "toString" => "t",
      "hasOwnProperty" => "h", "" => "nameless"
    ),
    "#{TIME.tr('T', ' ')}:10 javascript:alert(1) http://x/\" onmouseover=\"window.harm=3 &lt;b&gt; &amp; %3Cscript%3E",
    "#{TIME.tr('T', ' ')}:11 \xFF\xFE bytes that are no text \x80", "#{TIME.tr('T', ' ')}:12 " + ("unbroken" * 5000),
    "=cmd|' /C calc'!A0", "   ", "{", "\u{FEFF}#{TIME}:13Z marked"
  ].map(&:b).freeze
  # The last four but the very last have no time, and belong to the line before them.
  EVENTS = LINES.size - 3

  class << self
    # @return [Northdrift::Place, nil] where the lines are already
    attr_accessor :filled
  end

  def setup
    super
    return if self.class.filled.equal?(place)

    fill
    self.class.filled = place
  end

  def fill
    uri = URI("#{place.address}/api/imports?name=#{URI.encode_www_form_component("#{HARM}\u{202E}.log")}")
    Net::HTTP.post(uri, "#{LINES.join("\n")}\n", "Content-Type" => "application/octet-stream")
    open_page
    eventually { total == EVENTS }
  end

  def assert_harmless
    assert_nil evaluate_script("window.harm")
    assert_equal 0, evaluate_script("document.querySelectorAll('img[src=x], script:not([src]):not([nonce])').length")
  end

  VIEWS = [
    "/", "/?view=patterns", "/?view=fields", "/?view=words", "/?view=measure&measure=count+by+host.name",
    "/?lanes=machine", "/?find=#{URI.encode_www_form_component('"onerror"')}", "/logbook", "/logbook/restarts",
    "/fleet", "/fleet/map", "/fleet/availability", "/intake", "/intake/unread", "/cases"
  ].freeze

  VIEWS.each_with_index do |path, index|
    define_method("test_view_#{index}_shows_text_as_text") do
      open_page(path)
      assert_selector "main"
      surveyed
      assert_harmless
      assert_operator evaluate_script("document.documentElement.scrollWidth"), :<=, 1280,
                      "nothing makes the page wider than the window"
    end
  end

  # Every line opens in the inspector, with all that there is of it.
  def test_every_line_is_looked_at
    open_page
    eventually { total == EVENTS }
    first("[data-line]").click
    assert_selector "dt"
    seen = []
    chosen = -> { find("[data-line][aria-selected=true]", match: :first)["data-line"] }
    (EVENTS - 1).times do
      before = chosen.call
      seen << find("[data-line][aria-selected=true]", match: :first).text.lines.last.to_s[0, 40]
      assert_harmless
      keys("j")
      eventually { chosen.call != before }
    end
    assert_operator seen.uniq.size, :>=, 8, seen.inspect
    assert_operator evaluate_script("document.documentElement.scrollWidth"), :<=, 1280
  end

  def test_names_that_scripts_know_are_fields_like_others
    open_page("/?find=names")
    eventually { total == 1 }
    first("[data-line]").click
    { "__proto__" => "p", "constructor" => "c", "toString" => "t", "hasOwnProperty" => "h" }.each do |name, value|
      assert_equal value, find("dt", text: /\A#{name}\z/).find(:xpath, "following-sibling::dd[1]").text.strip[/\A\S/],
                   name
    end
    open_page("/?find=#{URI.encode_www_form_component('__proto__ = p')}")
    eventually { total == 1 }
  end
end
