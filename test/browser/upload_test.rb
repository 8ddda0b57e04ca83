# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"

class UploadTest < Northdrift::BrowserTest
  plays demo: false

  def test_from_nothing_to_lines_by_dropping_files
    open_page
    assert_text "Drop log files here"
    log =
      Array
        .new(500) do |index|
          "2026-11-22T06:12:#{format('%02d', index % 60)}Z ERROR <b onclick=alert(1)>event</b> #{index}\n"
        end
        .join
    page.execute_script(Northdrift::DROP, [["night.log", log], ["empty.log", ""]])
    assert_text "500 lines read"
    assert_text "empty: there is nothing in it"
    keys(:escape)
    eventually { total == 500 }
    assert_includes shown.first, "<b onclick=alert(1)>event</b>", "log text is text"

    page.execute_script(Northdrift::DROP, [["again.log", log]])
    assert_text "500 were here already"
    eventually { total == 500 }

    first("button", text: "Take back").click
    assert_text "taken back: 500 lines are gone again"
    assert_text "Drop log files here"
  end
end

# A file whose times are far off squeezes nothing.
class FarOffTest < Northdrift::BrowserTest
  plays demo: false

  def test_the_rail_folds_what_is_empty_and_a_page_opens_where_most_lines_are
    open_page
    assert_text "Drop log files here"
    near = Array.new(300) { |index| "#{(Time.utc(2026, 11, 20) + (index * 60)).iso8601} ERROR thing #{index}\n" }.join
    page.execute_script(Northdrift::DROP, [["near.log", near], ["far.log", "2019-01-03 10:00:00 ERROR far off\n"]])
    assert_text "300 lines read"
    assert_text "1 lines read"
    keys(:escape)
    fold = find("[data-fold]", text: "2,878 days without a line")
    fold.click
    assert_no_selector "[data-fold]"
    assert_includes page.current_url, "rail=whole"
    click_button "fold what is empty"
    assert_selector "[data-fold]"

    open_page
    eventually { total == 300 }
    assert_includes page.current_url, "from=2026-11-20"
    assert_no_selector "[data-fold]"
  end
end
