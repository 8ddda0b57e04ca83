# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"
require "csv"
require "tmpdir"

# What a person does who does not know the word: fields, words and measures; the thread of a line; and what is kept for
# the next time.
class CondenseBrowserTest < Northdrift::BrowserTest
  plays

  DAY = 86_400

  def day(ago) = (Northdrift::Worlds::MOMENT.to_date - ago).strftime("%Y-%m-%d")
  def stall(more = "") = open_page("/?from=#{day(1)}T06:02:00Z&to=#{day(1)}T06:26:00Z#{more}")

  def choose(label, option)
    find("input[aria-label='#{label}']").click
    find("[role=option]", text: option, exact_text: true).click
  end

  def test_from_a_field_that_stands_out_to_a_measure_of_it
    stall("&view=fields&find=503")
    # The failed answers differ from the rest of the window by who gave them and how, not by who asked.
    assert_selector "[data-field]", minimum: 10
    surveyed
    names = all("[data-field]").map { |field| field["data-field"] }
    assert_operator names.index("http.response.status_code"), :<, names.index("client.address")
    assert_operator names.index("severity"), :<, names.index("user_agent.original")
    within("[data-field='host.name']") { assert_text(/\d+\s*tix-app-1/) }
    shares = all("[data-field]").to_h { |field| [field["data-field"], field.text[/in (\S+ ?%) of the lines/, 1]] }
    assert_equal "100 %", shares["host.name"]
    assert_operator shares["client.address"].to_f, :<, 100
    find("button[title='only host.name = tix-app-1']").click
    assert_text "Narrowed by clicks"

    find("button[aria-label='measure host.name']").click
    assert_selector "button[aria-current=page]", text: "Measure"
    assert_equal "count by host.name per auto", find("input[aria-label='measured as']").value
    assert_selector "[data-chart] svg"
    find("input[aria-label='measured as']").set("p95(duraton_ms) by host.name\n")
    assert_text "Column 5: no line has a field “duraton_ms”; did you mean duration_ms?"
    click_button "Use duration_ms"
    assert_text "have no duration_ms to measure"
  end

  def test_a_measure_by_clicks_and_a_group_that_narrows
    stall("&view=measure&measure=count")
    eventually { find("[data-measured]").text == find("[data-total]").text[/[\d,]+/] }
    find("input[aria-label='by']").click
    find("[role=option]", text: "host.name", exact_text: true).click
    find("[data-group='tix-db-1'] button", match: :first).click
    eventually { find("[data-total]").text.start_with?(find("[data-measured]").text) }
    assert_text 'host.name = "tix-db-1"'
    choose("drawn as", "pie")
    assert_selector "[data-chart=pie] svg"
  end

  def test_a_word_that_is_new_over_time
    stall("&view=words&with=day")
    word =
      eventually do
        all("[data-word]", minimum: 10).first(15).find { |row| row.text.include?("timed") && row.text.include?("new") }
      end
    word.find("button[aria-label='timed over time']").click
    assert_selector "section[aria-label='timed over time'] [data-chart] svg path", minimum: 5
    choose("per", "minute")
    assert_text(/timed in \d+ lines/)
    find("label", text: "Cloud").click
    assert_selector "ul[aria-label='Words as a cloud'] button", text: "timed"
    find("label", text: "List").click
    find("[data-word='timed'] button", text: "timed", match: :first).click
    eventually { total < 100 }
  end

  # weather-1's clock is four minutes slow: what it answers seems to come before it was asked.
  def test_the_same_request_on_two_machines_in_true_time
    open_page("/?find=crossing+host.name+%3D+weather-1&from=#{day(4)}T08:00:00Z&to=#{day(4)}T12:00:00Z")
    find("[data-line]", text: "crossing answered", match: :first).click
    click_button "same request.id"
    eventually { find("[data-ladder]")["data-ladder"] == "4" }
    rows = -> { all("[role=dialog] ul li", minimum: 4).map(&:text) }
    assert_includes rows.call.first, "crossing asked for"
    within("[role=dialog]") { find("label", text: "true time").click }
    assert_text "weather-1 4 min 10 s behind"
    story = eventually { rows.call.then { |all| all if all.first.include?("asking weather-1") } }
    ["asking weather-1", "crossing asked for", "crossing answered", "weather for the crossing came"].zip(
      story
    ) { |words, row| assert_includes row, words }
    find("[role=tab]", text: "Seen before").click
    assert_text(/First on .* lines in all, on \d of the 30 days/)
    find("[role=tab]", text: "In its file").click
    assert_selector "[role=dialog] ol li[aria-current]", text: "crossing answered"
    fill_in "line number", with: "3"
    click_button "Go to line"
    eventually { find("[role=dialog] ol li[aria-current]").text.start_with?("3") }
    find("[role=tab]", text: "Nearby").click
    assert_selector "[role=dialog] ul li", minimum: 20
  end

  def test_a_question_and_a_scope_are_kept
    stall("&find=gate*")
    find("button[aria-label=Searches]").click
    assert_selector "[data-starter][data-any]", minimum: 5
    find("[role=tab]", text: "Saved").click
    fill_in "Name", with: "Gates at boarding"
    click_button "Save"
    assert_selector "[data-search='Gates at boarding']"
    find("button[aria-label='delete Gates at boarding']").click
    assert_no_selector "[data-search='Gates at boarding']"
    click_button "Undo"
    assert_selector "[data-search='Gates at boarding']"
    stall
    find("button[aria-label=Searches]").click
    find("[role=tab]", text: "Saved").click
    click_button "Gates at boarding"
    eventually { page.current_url.include?("find=gate*") && total < 1000 }

    find("[data-scope]").click
    find("[role=menuitem]", text: "new scope").click
    fill_in "Name", with: "database"
    fill_in "And the condition", with: "host.name = tix-db-*"
    click_button "Save and use"
    assert_selector "[data-scope]", text: "database"
    assert_text "No line matches"
    visit current_url
    assert_selector "[data-scope]", text: "database"
  end

  def test_a_starter_with_a_blank
    stall
    find("button[aria-label=Searches]").click
    fill_in "search the searches", with: "troubles"
    find("[data-starter] button", match: :first).click
    fill_in "service", with: "bookingd"
    within("[role=dialog]") { click_button "Ask" }
    eventually { page.current_url.include?("service.name+%3D+bookingd") && shown.any? }
  end

  def test_lines_leave_as_a_file
    Dir.mktmpdir do |dir|
      page.driver.browser.execute_cdp("Browser.setDownloadBehavior", behavior: "allow", downloadPath: dir)
      stall("&find=timed&columns=duration_ms")
      lines = eventually { total }
      click_button "export"
      find("[role=menuitem]", text: "CSV").click
      assert_selector "[data-exported=done]", text: "#{lines} lines written"
      path = eventually { Dir[File.join(dir, "*.csv")].first }
      rows = CSV.read(path, headers: true)
      assert_equal lines, rows.size
      assert_includes rows.headers, "duration_ms"
    end
  end
end
