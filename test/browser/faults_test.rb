# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"
require "cgi"
require "json"
require "net/http"

# What a person types or sees stays true when something fails, takes long or comes in between.
class FaultsTest < Northdrift::BrowserTest
  plays

  DAY = Northdrift::Worlds::YESTERDAY
  WINDOW = "from=#{DAY}T06:02:00Z&to=#{DAY}T06:26:00Z".freeze

  # Has the page's requests that fit wait until they are let go, or answers them with something else.
  HOLD = <<~JS
    const asked = window.fetch;
    window.held = [];
    window.fetch = (path, options) => {
      const request = new Request(path, options);
      if (!new RegExp(arguments[0]).test(`${request.method} ${new URL(request.url).pathname}`)) return asked(request);
      return new Promise((answer, refuse) => {
        request.signal.addEventListener("abort", () => refuse(new DOMException("stopped", "AbortError")));
        window.held.push(() => asked(request).then(answer, refuse));
      });
    };
    window.letGo = () => { window.fetch = asked; for (const go of window.held.splice(0)) go(); };
  JS

  def hold(pattern) = execute_script(HOLD, pattern)

  def held = eventually("a request that is held") { evaluate_script("window.held.length").positive? }

  def let_go = execute_script("window.letGo()")

  def post(path, object)
    text = object.is_a?(String) ? object : JSON.generate(object)
    JSON.parse(Net::HTTP.post(URI("#{place.address}#{path}"), text, "Content-Type" => "application/json").body)
  end

  def test_what_is_typed_in_one_field_of_a_case_outlives_the_saving_of_another
    id = post("/api/cases", { title: "Two fields" })["id"]
    open_page("/cases/#{id}")
    fill_in "Effect", with: "gates held closed"
    hold("^PATCH")
    find_field("Cause").click
    held
    find_field("Cause").send_keys("MTU 1500 on vlan")
    let_go
    eventually { JSON.parse(Net::HTTP.get(URI("#{place.address}/api/cases/#{id}")))["effect"] == "gates held closed" }
    # The case is read anew then; the list of all cases that is read with it tells when that is over.
    assert_selector :field, "Effect", with: "gates held closed"
    assert_selector :field, "Cause", with: "MTU 1500 on vlan"
    find_field("Cause").send_keys(" 40")
    find_field("Notes").click
    eventually { JSON.parse(Net::HTTP.get(URI("#{place.address}/api/cases/#{id}")))["cause"] == "MTU 1500 on vlan 40" }
    refresh
    assert_selector :field, "Cause", with: "MTU 1500 on vlan 40"
    assert_selector :field, "Effect", with: "gates held closed"
  end

  # Each line that comes in has the whole counted again, in the background.
  def test_a_status_that_does_not_come_leaves_the_lines_where_they_are
    open_page("/?find=%22timed+out+after%22&#{WINDOW}")
    click_button "follow"
    assert_selector "button[aria-pressed=true]:not([aria-busy=true])", text: "following"
    eventually { shown.any? }
    execute_script(<<~JS)
      const asked = window.fetch;
      window.mend = () => { window.fetch = asked; };
      window.fetch = (path, options) => {
        const request = new Request(path, options);
        if (new URL(request.url).pathname === "/api/status") return Promise.reject(new TypeError("gone"));
        return asked(request);
      };
    JS
    post("/api/imports?name=more.log", "#{place.now.strftime('%FT%T.%6NZ')} nobody timed out after 7 ms")
    assert_selector "footer [role=status]", text: "Northdrift does not answer"
    assert_includes shown.last, "timed out after 7 ms"
    execute_script("window.mend()")
    assert_no_selector "footer [role=status]", text: "Northdrift does not answer"
  end

  def test_no_figure_of_another_question_stands_while_this_one_is_counted
    open_page("/?find=%22timed+out+after%22&#{WINDOW}")
    before = total
    hold("^GET /api/histogram")
    keys("/")
    page.driver.browser.action.key_down(:control).send_keys("a").key_up(:control).perform
    keys("mtu", :enter)
    held
    assert_text "counting…"
    assert_no_selector "[data-total]"
    click_button "stop"
    assert_text "not counted"
    assert_no_selector "[data-total]"
    assert_no_selector "[data-rail]"
    let_go
    click_button "count"
    eventually { total != before && total.positive? }
    assert_no_text "not counted"
  end

  # As when something on the way answers in its stead.
  def test_an_upload_that_is_answered_with_a_page_ends_and_says_so
    open_page
    # Nothing is taken before the page is there.
    find("[data-line]", match: :first)
    execute_script(<<~JS)
      XMLHttpRequest.prototype.open = function () { this.unheard = true; };
      XMLHttpRequest.prototype.send = function () {
        Object.defineProperty(this, "status", { value: 502 });
        Object.defineProperty(this, "statusText", { value: "Bad Gateway" });
        Object.defineProperty(this, "responseText", { value: "<html>Bad Gateway</html>" });
        setTimeout(() => this.onload(new ProgressEvent("load")));
      };
      const data = new DataTransfer();
      data.items.add(new File(["2026-11-22T06:12:08Z one\\n"], "one.log"));
      for (const type of ["dragover", "drop"]) window.dispatchEvent(new DragEvent(type, { dataTransfer: data, bubbles: true, cancelable: true }));
    JS
    assert_text "The answer was not Northdrift’s: 502 Bad Gateway"
  end

  # The logbook has entries of several machines in these minutes; only those of machines that are asked for stand here.
  def test_entries_and_silences_are_of_the_machines_that_are_asked_for
    window = "from=#{DAY}T06:00:00Z&to=#{DAY}T07:00:00Z"
    machines = "host.name in (sw-core-1, tix-app-2)"
    open_page("/?find=mtu&chip=#{CGI.escape(machines)}&#{window}")
    assert_selector "[data-told]", text: "olav changed the configuration", minimum: 1
    assert_no_selector "[data-told]", text: "tix-app-1"
    open_page("/?find=#{CGI.escape("mtu #{machines}")}&#{window}")
    assert_selector "[data-told]", text: "olav changed the configuration", minimum: 1
    assert_no_selector "[data-told]", text: "tix-app-1"
    asked = ->(path, find) { JSON.parse(Net::HTTP.get(URI("#{place.address}#{path}?find=#{CGI.escape(find)}"))) }
    assert_equal %w[sw-core-1 tix-app-2],
                 asked.call("/api/logbook", machines)["happenings"].map { |one| one["machine"] }.uniq.sort
    silent = asked.call("/api/silences", "")["silences"].map { |one| one["machine"] }.uniq
    one = silent.first
    assert_equal [one],
                 asked.call("/api/silences", "host.name = #{one}")["silences"].map { |found| found["machine"] }.uniq
    assert_equal silent.sort - [one],
                 asked.call("/api/silences", "host.name != #{one}")["silences"]
                   .map { |found| found["machine"] }
                   .uniq
                   .sort
  end
end
