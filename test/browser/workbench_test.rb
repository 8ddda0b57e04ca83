# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"

# What a person does beside the main path: fields and columns, severities, themes and zones, keys, links.
class WorkbenchTest < Northdrift::BrowserTest
  plays shared: true

  def setup
    super
    open_page
    eventually { total > 1000 }
  end

  def find_text = find("[data-find]").text

  def replace_find(text)
    keys("/")
    page.driver.browser.action.key_down(:control).send_keys("a").key_up(:control).perform
    keys(text, :enter)
  end

  def press(label) = find("button[aria-label='#{label}']").click

  def field(name) = find("dt", text: /\A#{Regexp.escape(name)}\z/).find(:xpath, "..")

  def test_a_field_is_left_out_and_the_chip_taken_away_again
    before = total
    first("[data-line]").click
    field("host.name").hover
    field("host.name").find("button[aria-label^='not']").click
    eventually { total < before }
    assert_text "host.name !="
    find("button[aria-label^='Take out']").click
    eventually { total == before }
  end

  def test_lines_that_have_a_field_and_words_that_are_completed
    replace_find("has request.id")
    eventually { total.between?(1, 20_000) }
    having = total
    replace_find("has request.id and severity >= error")
    eventually { total < having && total.positive? }
    keys("/")
    page.driver.browser.action.key_down(:control).send_keys("a").key_up(:control).perform
    keys("host.na")
    assert_selector "[role=option]", text: "host.name"
  end

  def test_severities_are_switched_off_without_touching_the_question
    before = total
    address = current_url
    find("fieldset button", text: "informational").click
    eventually { total < before }
    find("fieldset button", text: "informational").click
    eventually { total == before }
    assert_equal URI(address).path, URI(current_url).path
  end

  # However short the window, the labels of the rail tell its steps apart.
  def test_a_window_of_a_second
    open_page("/?from=2026-11-22T06:12:08Z&to=2026-11-22T06:12:09Z")
    labels = lambda do
      evaluate_script(
        "[...document.querySelectorAll('aside[aria-label=\"Time rail\"] text')].map((text) => text.textContent)"
      )
    end
    eventually { labels.call.include?(":08.500") }
    assert_equal labels.call.uniq, labels.call
  end

  def test_the_theme_is_kept
    day = evaluate_script("getComputedStyle(document.body).backgroundColor")
    find("button[aria-label*='theme'], button[aria-label*='night'], button[aria-label*='Night']", match: :first).click
    eventually { evaluate_script("getComputedStyle(document.body).backgroundColor") != day }
    night = evaluate_script("getComputedStyle(document.body).backgroundColor")
    visit current_url
    eventually { total > 1000 }
    assert_equal night, evaluate_script("getComputedStyle(document.body).backgroundColor")
  end

  def test_no_key_fires_while_typing
    keys("/", "j n G m ? severity")
    assert_no_text "Keys, and how to find"
    assert_includes find_text, "j n G m ? severity"
    # The first closes what is offered for completion, if anything is.
    eventually { keys(:escape) && evaluate_script("!document.activeElement.closest('[data-find]')") }
    keys("?")
    assert_text "Keys, and how to find"
  end

  def test_steps_from_line_to_line_in_the_inspector
    rows = lines("row.dataset.line")
    all("[data-line]")[2].click
    chosen = -> { find("[data-line][aria-selected=true]")["data-line"] }
    assert_equal rows[2], chosen.call
    press("next line")
    eventually { chosen.call == rows[3] }
    press("previous line")
    press("previous line")
    eventually { chosen.call == rows[1] }
    press("close")
    assert_no_selector "[data-message]"
  end

  def test_windows_of_the_same_length_and_back_again
    window = find("[data-window]").text
    keys("[")
    eventually { find("[data-window]").text != window }
    keys("]")
    eventually { find("[data-window]").text == window }
  end

  def test_a_lane_narrows_to_its_machine
    find("label", text: "Machines").click
    eventually { all("[data-lane]").size > 3 }
    name = first("[data-lane]")["aria-label"].delete_prefix("only ")
    before = total
    page.execute_script("document.querySelector('[data-lane]').focus()")
    keys(:enter)
    assert_text "host.name = #{name}"
    eventually { total < before }
  end

  def test_a_regular_expression_that_cannot_be_read_is_told
    replace_find("message ~ /(open/")
    assert_text "cannot be read"
    replace_find("message ~ /timed out after \\d+ ?ms/")
    assert_no_text "cannot be read"
    eventually { total.between?(1, 5000) }
  end

  def test_a_link_to_an_unknown_page_leads_home
    open_page("/no-such-page")
    assert_selector "nav[aria-label=Screens]"
    # The server says that there is no such page, and the browser notes that.
    noted = page.driver.browser.logs.get(:browser).map(&:message)
    assert(noted.all? { |message| message.include?("status of 404") }, noted.inspect)
  end
end
