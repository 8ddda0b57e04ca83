# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"

# A board is made of what is measured, arranged by mouse and by keys, and leads back to the lines.
class BoardsBrowserTest < Northdrift::BrowserTest
  plays

  DAY = Northdrift::Worlds::YESTERDAY
  WINDOW = "from=#{DAY}T06:02:00Z&to=#{DAY}T06:26:00Z".freeze

  def measured(measure, find: "booking*") = "/?#{WINDOW}&view=measure&find=#{find}&measure=#{measure}"

  # Puts what is measured on a board.
  def put(title, board: nil, drawn: nil)
    if drawn
      find("input[aria-label='drawn as']").click
      find("[role=option]", text: drawn, exact_text: true).click
    end
    click_button "Put on a board"
    within("[role=dialog]") do
      select board ? "a new one" : "Halls", from: "Board"
      fill_in "Title of the board", with: board if board
      fill_in "Title of the card", with: title
      click_button "Put it there"
      assert_text "It is on Halls"
    end
  end

  # Where it stands, and how wide it is.
  def standing(card) = find("[data-card='#{card}']").native.rect.then { |rect| [rect.x, rect.y, rect.width] }

  def figure = find("[data-figure]")["data-figure"].to_i

  def make_board
    open_page(measured("count+by+host.name+per+auto"))
    put("By machine", board: "Halls", drawn: "line")
    open_page(measured("count"))
    put("Bookings", drawn: "one number")
    within("[role=dialog]") { click_link "Halls" }
    assert_selector "[data-card]", count: 2
    assert_selector "[data-card='By machine'] [data-chart=line]"
  end

  def test_a_board_from_questions_and_back_to_their_lines
    make_board
    board = current_path
    open_page("#{board}?#{WINDOW}")
    assert_selector "[data-figure]"
    drawn = figure
    assert_operator drawn, :>, 0
    find("[data-figure]").click
    eventually { total == drawn }
    arrange(board)
    delete_and_restore(board)
  end

  def arrange(board)
    open_page("#{board}?#{WINDOW}")
    click_button "Arrange"
    before = standing("Bookings")
    handle = find("[data-card='Bookings'] [data-handle]")
    2.times { handle.send_keys(%i[shift left]) }
    eventually { standing("Bookings")[2] < before[2] }
    find("[data-handle][aria-label*='Bookings']").send_keys(:up)
    drag = find("[data-card='Bookings'] [data-handle]")
    page.driver.browser.action.click_and_hold(drag.native).move_by(620, 0).release.perform
    eventually { standing("Bookings")[0] > before[0] }
    click_button "Change “By machine”"
    find("[role=menuitem]", text: "table").click
    click_button "Add a text"
    fill_in "Text of the card, Markdown", with: "Ask the **booking shift** first."
    click_button "Save"
    assert_selector "[data-card='By machine'] td", text: /tix|gate|hall/, match: :first
    assert_selector "[data-card=Notes] strong", text: "booking shift"
    page.refresh
    assert_selector "[data-card=Notes] strong", text: "booking shift"
    assert_operator standing("Bookings")[0], :>, before[0]
    narrow_down(board)
  end

  # A row of a table leads to the lines that it counts.
  def narrow_down(board)
    row = find("[data-card='By machine'] tr", match: :first)
    drawn = row.all("td").last.text.delete(",").to_i
    row.find("a").click
    eventually { total == drawn }
    open_page("#{board}?#{WINDOW}")
    click_button "Arrange"
    fill_in "Narrowed to", with: "host.name = ("
    assert_selector "[role=alert]", text: /column|expected|missing|value/i
    fill_in "Narrowed to", with: "host.name = tix-db-1"
    assert_selector "[data-card='By machine'] tr", count: 1
    click_button "Cancel"
  end

  def delete_and_restore(board)
    open_page(board)
    click_button "Delete"
    assert_text "The board is deleted."
    assert_no_selector "[data-board=Halls]"
    click_button "Undo"
    assert_selector "[data-board=Halls]"
    fill_in "Search the boards", with: "nothing of it"
    assert_text "No board has these words."
  end
end
