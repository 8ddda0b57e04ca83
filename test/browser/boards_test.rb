# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"
require "csv"
require "nokogiri"

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

  def add_card(kind)
    click_button "Add a card ▾"
    find("[role=menuitem]", text: kind, exact_text: true).click
  end

  # What is done with a board as a whole.
  def share(what)
    click_button "Share ▾"
    find("[role=menuitem]", text: what, exact_text: true).click
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
    add_card("text")
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
    click_button "Undo"
    fill_in "Narrowed to", with: ""
    click_button "Cancel"
  end

  def delete_and_restore(board)
    open_page(board)
    share("Delete")
    assert_text "The board is deleted."
    assert_no_selector "[data-board=Halls]"
    click_button "Undo"
    assert_selector "[data-board=Halls]"
    fill_in "Search the boards", with: "nothing of it"
    assert_text "No board has these words."
  end

  # @return [Integer] lines that a page of Investigate with this address counts
  def counted(address)
    query = Rack::Utils.parse_nested_query(URI(address).query.to_s.gsub(/(^|&)chip=/, '\1chip[]='))
    asked = query.slice("find", "chip", "hide", "scope", "noise")
    %w[from to].each { |name| asked[name] = (Time.iso8601(query[name]).to_r * 1_000_000).to_i if query[name] }
    path = "/api/histogram?#{Rack::Utils.build_nested_query(asked.merge('bins' => 1))}"
    JSON.parse(Net::HTTP.get(URI("#{place.address}#{path}")))["total"]
  end

  def show_figures(card)
    click_button "More of “#{card}”"
    find("[role=menuitem]", text: "Show the figures").click
    assert_selector "[data-card='#{card}'] [data-drawing=figures] td"
  end

  # Whatever is drawn leads to as many lines as it says.
  def test_marks_lead_to_exactly_their_lines
    open_page("/boards/1")
    charts = ["Bookings that fail", "How bad"]
    charts.each { |card| show_figures(card) }
    titles = charts + ["Failed logons", "Who turned bad first", "Who writes most", "All lines",
                       "Patterns out of their usual", "Words of what is bad"]
    marks = titles.flat_map do |title|
      scroll_to(find("[data-card='#{title}']"))
      assert_selector "[data-card='#{title}'] [data-mark]", match: :first, visible: :all
      marks_of(title)
    end
    sample = marks.sample(200, random: seeded(73))
    assert_equal 200, sample.size
    wrong = sample.filter_map do |drawn, address|
      found = counted(address)
      [drawn, found, address] unless found == drawn
    end
    assert_empty wrong.first(5), "#{wrong.size} of #{sample.size}"
    drawn, address = sample.max
    open_page(address[%r{/\?.*}])
    eventually { total == drawn }
  end

  # @return [Array<Array(Integer, String)>] lines that marks of a card say, and where they lead
  def marks_of(title)
    evaluate_script(<<~JS, title)
      [...document.querySelectorAll(`[data-card='${arguments[0]}'] [data-mark]`)].map((mark) => {
        const link = mark.matches("a") ? mark : mark.querySelector("a");
        return [Number(mark.dataset.mark), new URL(link.getAttribute("href"), location.href).href];
      })
    JS
  end

  # What is drawn leaves as figures and as pictures.
  def test_a_chart_leaves_as_files
    Dir.mktmpdir do |dir|
      page.driver.browser.execute_cdp("Browser.setDownloadBehavior", behavior: "allow", downloadPath: dir)
      open_page("/boards/1")
      assert_selector "[data-card='Bookings that fail'] [data-chart] path", match: :first, visible: :all
      ["figures as CSV", "figures as XLSX", "picture as PNG", "picture as SVG"].each do |what|
        click_button "More of “Bookings that fail”"
        find("[role=menuitem]", text: "Save #{what}").click
      end
      files = eventually { Dir[File.join(dir, "bookings-that-fail.*")].then { |all| all if all.size == 4 } }
      csv, png, svg, = files.map { |path| File.binread(path) }
      assert_equal %w[time all], CSV.parse(csv).first
      # PNG, section 5.2; and what it is drawn from has its colours with it.
      assert_equal "\x89PNG\r\n\x1A\n".b, png[0, 8]
      drawing = Nokogiri::XML(svg)
      assert_operator drawing.css("path[stroke^=rgb]").size, :>, 0
      assert_empty drawing.errors
    end
  end

  # Bars that stand on each other lead to the lines of their part.
  def test_a_part_of_a_bar_leads_to_its_lines
    open_page("/boards/1")
    card = find("[data-card='How bad']")
    scroll_to(card)
    bars = card.all(".recharts-bar-rectangle path", minimum: 3, visible: :all)
    bars.max_by { |bar| bar.native.rect.height }.click
    # One severity, and one step of time.
    assert_current_path(/chip=severity.*from=.*to=/)
    assert_operator total, :>, 0
  end

  # A board is made, filled and arranged without a mouse.
  def test_a_board_by_keys
    open_page("/boards")
    assert_selector "[data-starter=logons][data-any=true]"
    find_button("New board").send_keys(:enter)
    find_button("Arrange").send_keys(:enter)
    title = find_field("Title of the board")
    title.send_keys([:control, "a"], "By keys")
    2.times do |at|
      find_button("Add a card ▾").send_keys(:enter)
      item = find("[role=menuitem]", text: %w[logbook lanes][at], exact_text: true)
      item.send_keys(:enter)
    end
    before = standing("Lanes")
    handle = find("[data-handle][aria-label*='Lanes']")
    3.times { handle.send_keys(%i[shift right]) }
    eventually { standing("Lanes")[2] > before[2] }
    find_button("Change “Logbook”").send_keys(:enter)
    find("[role=menuitem]", text: "time rail", exact_text: true).send_keys(:enter)
    find_button("Save").send_keys(:enter)
    assert_selector :button, "By keys ▾"
    assert_selector "[data-card=Logbook] svg a", match: :first, visible: :all
    assert_selector "[data-card=Lanes] li", match: :first
    keep_and_share
  end

  # What is made of a board: a copy, an earlier form, a file, a wall.
  def keep_and_share
    share("Duplicate")
    assert_selector :button, "By keys (copy) ▾"
    click_button "Arrange"
    fill_in "Title of the board", with: "By keys, changed"
    fields = find_field("Fields that readers choose a value of")
    fields.click
    fields.send_keys("host.name", :enter, :escape)
    click_button "Save"
    assert_selector :button, "By keys, changed ▾"
    narrow_by_variable
    share("Versions")
    within("[role=dialog]") { click_button "Restore" }
    assert_selector :button, "By keys (copy) ▾"
    share("Wall view")
    within("[role=dialog]") { click_link "Open" }
    assert_no_selector "nav"
    assert_selector "h1", text: "By keys (copy)"
    bring_in
  end

  def narrow_by_variable
    picker = find_field("machine, of host.name")
    picker.send_keys("tix-app-1", :enter)
    assert_current_path(/v\.machine=tix-app-1/)
    assert_selector "[data-card=Lanes] li", count: 1
    page.refresh
    assert_selector "[data-card=Lanes] li", count: 1, text: "tix-app-1"
  end

  def bring_in
    open_page("/boards")
    file = File.join(Dir.mktmpdir, "board.json")
    File.write(file, JSON.generate("title" => "From a file", "cards" => [{ "id" => "a", "drawing" => "alerts" }]))
    attach_file("A board’s file", file, make_visible: true)
    assert_selector :button, "From a file ▾"
    click_button "Favourite"
    assert_selector "[aria-pressed=true]"
    open_page("/boards")
    assert_equal "From a file", first("[data-board]")["data-board"]
    File.write(file, "no board")
    attach_file("A board’s file", file, make_visible: true)
    assert_text "board.json is no JSON."
  end
end
