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
