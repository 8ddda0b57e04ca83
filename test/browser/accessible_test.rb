# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"

# Every view by day and by night, held against WCAG 2.2 level A and AA as axe-core checks them (the npm package).
class AccessibleTest < Northdrift::BrowserTest
  plays

  AXE = File.join(Northdrift::ROOT, "web/node_modules/axe-core/axe.min.js")
  STANDARDS = %w[wcag2a wcag2aa wcag21a wcag21aa wcag22aa].freeze
  # All of it by day; by night what colours can change.
  SCHEMES = {
    "light" => { type: "tag", values: STANDARDS },
    "dark" => { type: "rule", values: %w[color-contrast link-in-text-block] }
  }.freeze

  # Rows are alike: of a long table the first so many are looked at.
  ALIKE = ["tbody > tr:nth-child(n+13)", "[data-line]:nth-child(n+13)"].freeze

  DAY = Northdrift::Worlds::YESTERDAY
  WINDOW = "from=#{DAY}T06:02:00Z&to=#{DAY}T06:26:00Z".freeze

  # By name: the path, and a text or a selector that is there once all is drawn.
  VIEWS = {
    "lines" => ["/?#{WINDOW}&hide=debug&chip=host.name+!%3D+tix-app-2", "[data-line]"],
    "lanes" => ["/?find=severity+>%3D+notice&lanes=machine&#{WINDOW}", "[data-lane]"],
    "nothing found" => ["/?find=nowhereatall&#{WINDOW}", "[data-total]"],
    "a mistake" => ["/?find=host.nme+%3D+x&#{WINDOW}", "[role=alert]"],
    "patterns" => ["/?view=patterns&with=day&#{WINDOW}", "[data-pattern]"],
    "fields" => ["/?view=fields&find=503&#{WINDOW}", "[data-field]"],
    "words" => ["/?view=words&with=day&#{WINDOW}", "[data-word]"],
    "measure" => ["/?view=measure&measure=count+by+host.name+per+auto&#{WINDOW}", "table"],
    "logbook" => ["/logbook", "[data-happening]"],
    "restarts" => ["/logbook/restarts", "[data-restart]"],
    "rules" => ["/logbook/rules", "table"],
    "a rule" => ["/logbook/rules/new?find=oom", "main"],
    "fleet" => ["/fleet", "[data-machine]"],
    "map" => ["/fleet/map", "svg"],
    "availability" => ["/fleet/availability", "table"],
    "boards" => ["/boards", "main"],
    "the handover" => ["/handover", "[data-section]"],
    "cases" => ["/cases", "main"],
    "intake" => ["/intake", "main"],
    "unread" => ["/intake/unread", "main"],
    "parsers" => ["/intake/parsers", "main"],
    "a parser" => ["/intake/parsers/new", "main"],
    "noise" => ["/intake/noise", "main"],
    "a noise rule" => ["/intake/noise/new?find=CRON", "[data-trial]"],
    "keeping" => ["/intake/keeping", "main"],
    "sending on" => ["/intake/relays", "main"],
    "now" => ["/now", "[data-strip]"],
    "now, machines" => ["/now?by=machine", "[data-strip]"],
    "alerts" => ["/alerts", "main"],
    "unusual" => ["/alerts/unusual", "main"],
    "quiet times" => ["/alerts/quiet", "main"],
    "routes" => ["/alerts/routes", "main"],
    "a route" => ["/alerts/routes/new", "[aria-label=Preview]"],
    "alert rules" => ["/alerts/rules", "[data-shipped]"],
    "an alert rule" => ["/alerts/rules/new?find=%22timed+out+after%22", "[data-level]"],
    "teams" => ["/people/teams", "main"],
    "settings" => ["/people/settings", "[data-setting]"],
  }.freeze

  # What opens within a view: how, and what is there then.
  LINES = "/?#{WINDOW}&hide=debug&chip=host.name+!%3D+tix-app-2".freeze
  TIMED_OUT = "/?find=%22timed+out+after%22&#{WINDOW}".freeze
  OPENED = {
    "an opened line" => [LINES, -> { find("[data-line]", match: :first).click }, "[data-message]"],
    "the keys" => [LINES, -> { assert_selector("[data-line]", match: :first) && keys("?") }, "[role=dialog]"],
    "the window picker" => [LINES, -> { find("[data-window]").click }, "[role=dialog]"],
    "searches" => [LINES, -> { click_button "Searches" }, "[role=dialog]"],
    "a scope" => [LINES, -> { find("[data-scope]").click }, "[role=menu], [role=dialog]"],
    "what to compare with" => [LINES, -> { find("[data-compared]").click }, "[role=menu]"],
    "columns" => [LINES, -> { click_button "columns" }, "[role=dialog]"],
    "an export" => [LINES, -> { click_button "export" }, "[role=menu]"],
    "a thread" => [
      TIMED_OUT, -> { find("[data-line]", match: :first).click && click_button("same request.id") },
      "[role=dialog], [data-ladder]"
    ],
    "an opened pattern" => [
      VIEWS["patterns"].first,
      -> { find("[data-pattern]", match: :first).find("button[aria-expanded]", match: :first).click }, "h3"
    ], "a source to add" => ["/intake", -> { click_button "Add a source" }, "[role=dialog]"],
    "a machine" => ["/fleet", -> { click_button "change dns-1" }, "[role=dialog]"],
    "planned work" => [
      "/alerts/quiet",
      lambda {
        click_button("New maintenance window") && find("label", text: "whenever the logbook").click
      }, "[role=dialog]"
    ],
    "a relay" => ["/intake/relays", -> { click_button "Send lines on", match: :first }, "[role=dialog]"],
    "what changed before" => [
      TIMED_OUT, -> { find("[data-line]", match: :first).click && click_button("what changed before") }, "[data-onset]"
    ]
  }.freeze

  { **VIEWS.transform_values { |path, there| [path, nil, there] }, **OPENED }.each do |name, (path, opening, there)|
    define_method("test_#{name.tr(' ', '_')}") do
      open_page(path)
      instance_exec(&opening) if opening
      assert_selector there, match: :first, visible: :all
      surveyed
      assert_accessible
    end
  end

  def test_a_case
    open_page(TIMED_OUT)
    find("[data-line]", match: :first).click
    assert_selector "[data-message]"
    keys("p")
    within("[role=dialog]") do
      fill_in "What is it about?", with: "Time-outs"
      click_button "Start the case"
    end
    find("button[data-case]").click
    find("[role=menuitem]", text: "open “Time-outs”").click
    assert_selector "[data-pin]"
    assert_accessible
  end

  def test_a_board
    open_page("/?view=measure&measure=count+by+host.name&#{WINDOW}")
    click_button "Put on a board"
    select "a new one", from: "Board"
    fill_in "Title of the board", with: "Halls"
    click_button "Put it there"
    click_link "Halls"
    assert_selector "[data-card] [data-chart], [data-card] table"
    assert_accessible
    click_button "Arrange"
    click_button "Add a card ▾"
    find("[role=menuitem]", text: "text", exact_text: true).click
    assert_selector :field, "Text of the card, Markdown"
    assert_accessible
  end

  def assert_accessible
    execute_script(File.read(AXE))
    found = SCHEMES.to_h { |scheme, rules| [scheme, violations(scheme, rules)] }
    assert_empty(found.reject { |_, violations| violations.empty? })
  end

  # @return [Array<String>] rule, place and what is to be done
  def violations(scheme, rules)
    page.driver.browser.execute_cdp(
      "Emulation.setEmulatedMedia", features: [{ name: "prefers-color-scheme", value: scheme }]
    )
    assert_selector "html[data-mantine-color-scheme=#{scheme}]"
    # colours on their way
    eventually { evaluate_script("document.getAnimations().every((one) => one.playState !== 'running')") }
    found = page.driver.browser.execute_async_script(<<~JS, rules, ALIKE)
      const done = arguments[arguments.length - 1];
      const place = { include: [["html"]], exclude: arguments[1].map((one) => [one]) };
      axe.run(place, { runOnly: arguments[0], resultTypes: ["violations"] }).then((result) => done(result.violations));
    JS
    found.flat_map do |rule|
      rule["nodes"].map do |node|
        "#{rule['id']}: #{node['target'].join(' ')}: #{node['failureSummary'].lines.drop(1).map(&:strip).join('; ')}"
      end
    end
  end
end
