# frozen_string_literal: true

require "capybara"
require "capybara/dsl"
require "minitest/retry"
require "selenium-webdriver"
require "tmpdir"
require_relative "place"
require_relative "failures"

module Northdrift
  # The real interface in headless Chromium.
  module Browser
    ENV["SE_OFFLINE"] = "true"
    BINARY = "/usr/bin/chromium"
    DRIVER = "/usr/bin/chromedriver"
    ARGUMENTS = %w[
      --headless=new --no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking
      --disable-component-update --disable-sync --disable-dev-shm-usage --force-prefers-reduced-motion
    ].freeze
    SIZE = [1280, 800].freeze
    # Nothing moves on its way: what is there can be clicked. And the page's clock is the server's.
    PAGE = <<~JS
      const ahead = %<ahead_ms>d;
      const { now } = Date;
      Date.now = () => now() + ahead;
      globalThis.Date = new Proxy(Date, {
        construct: (target, given, made) => Reflect.construct(target, given.length ? given : [Date.now()], made),
        apply: () => new Date().toString(),
      });
      document.addEventListener("DOMContentLoaded", () => {
        const still = new CSSStyleSheet();
        still.replaceSync("*, ::before, ::after { animation: none !important; transition: none !important; caret-color: transparent !important; scroll-behavior: auto !important; }");
        document.adoptedStyleSheets = [...document.adoptedStyleSheets, still];
      });
    JS

    Capybara.register_driver :northdrift do |app|
      options = Selenium::WebDriver::Chrome::Options.new(binary: BINARY)
      folder = Dir.mktmpdir("northdrift-chromium")
      Minitest.after_run { FileUtils.rm_rf(folder) }
      [*ARGUMENTS, "--user-data-dir=#{folder}", "--window-size=#{SIZE[0]},#{SIZE[1] + 140}"].each do |argument|
        options.add_argument(argument)
      end
      options.logging_prefs = { browser: "ALL" }
      options.timeouts = { script: (Waiting::DEADLINE * 1000).round }
      Capybara::Selenium::Driver.new(
        app, browser: :chrome, options: options, service: Selenium::WebDriver::Service.chrome(path: DRIVER)
      )
    end

    # Has the pages' clock go with that of a place.
    # @param ahead [Float] seconds
    def self.keep_time(browser, ahead)
      return if @kept == [browser, ahead]

      old = @kept&.first.equal?(browser) ? @script : nil
      browser.execute_cdp("Page.removeScriptToEvaluateOnNewDocument", identifier: old) if old
      source = format(PAGE, ahead_ms: ahead * 1000)
      @script = browser.execute_cdp("Page.addScriptToEvaluateOnNewDocument", source: source)["identifier"]
      @kept = [browser, ahead]
    end

    # Who only looks shares a place with others who do.
    # @return [Place]
    def self.shared = @shared ||= Place.new(demo: true).tap { |place| Minitest.after_run { place.stop } }
  end

  # A drop as the browser hands it over, of files that are made in the page: names and texts.
  DROP = <<~JS
    const data = new DataTransfer();
    for (const [name, text] of arguments[0]) data.items.add(new File([text], name));
    for (const type of ["dragover", "drop"]) window.dispatchEvent(new DragEvent(type, { dataTransfer: data, bubbles: true, cancelable: true }));
  JS

  # A test of the interface. Who writes has a place of its own, which is there for all tests of the class and goes with
  # it.
  class BrowserTest < Minitest::Test
    include Capybara::DSL
    include Waiting

    class << self
      # Says where the tests of a class play.
      # @param demo [Boolean] in the demo world, or where there is nothing yet
      # @param shared [Boolean] with others, who only look, as these do
      # @param moment [Time] what the clock says there
      # @param people [Hash{String=>String}] who log in there, see {Place}
      # @param provider [String, nil] what another provider is called, whose people log in there as viewers
      def plays(demo: true, shared: false, moment: Worlds::MOMENT, people: {}, provider: nil)
        @plays = { demo: demo, shared: shared, moment: moment, people: people, provider: provider }
      end

      # @return [Place]
      def place = @plays[:shared] ? Browser.shared : (@place ||= Place.new(**@plays.except(:shared)))

      def run(...)
        super
      ensure
        leave
      end

      # What comes after begins in a new place.
      def leave
        @place&.stop
        @place = nil
      end
    end

    Minitest::Retry.use!(retry_count: 1, verbose: false, classes_to_retry: [name])
    Minitest::Retry.on_retry do |tests, name, _, result|
      Failures.tried_again("#{tests}##{name}", result)
      Capybara.current_session.quit
      tests.leave
    end

    def setup
      Capybara.default_driver = :northdrift
      Capybara.run_server = false
      Capybara.enable_aria_label = true
      Capybara.default_max_wait_time = DEADLINE
      # As a person does it: a long text would be put in by a script, and be lost where the page draws anew meanwhile.
      Capybara.default_set_options = { rapid: false }
    end

    # When a person types over selected text, Chromium itself tries to keep the text's style with a style attribute; the
    # policy refuses it, and the editor draws its own. Nothing of ours asks for inline styles.
    HARMLESS = /status of 422|Applying inline style violates/

    # @return [Regexp] what a console may say
    def harmless = HARMLESS

    # What a page must never have: errors in its console (the content security policy reports there too).
    def teardown
      console = page.driver.browser.logs.get(:browser)
      Failures.keep(self, page, console) unless passed?
      Capybara.reset_sessions!
      errors = console.select { |entry| entry.level == "SEVERE" && !entry.message.match?(harmless) }
      assert_empty errors.map(&:message)
    end

    def place = self.class.place

    # Investigate, where nothing else is said: its plain address leads to Now while lines come in.
    def open_page(path = "/#lines")
      Browser.keep_time(page.driver.browser, place.ahead)
      # From one place of a page to another of the same, a browser loads nothing.
      visit("about:blank") if path.include?("#")
      visit("#{place.address}#{path}")
    end

    # A list of alerts does not move while somebody looks at it: it is opened anew until what comes in its time is
    # there.
    # @param there [Hash] see Capybara's has_selector?
    def open_alerts(path = "/alerts", **there)
      eventually("alerts of #{path}, #{there}") do
        open_page(path)
        page.has_selector?("[data-alert]", wait: 3, **there)
      end
    end

    def keys(*all) = all.each { |key| page.driver.browser.action.send_keys(key).perform }

    # Waits until all lines were looked at: what there is before the end is of a part of them.
    def surveyed
      assert_no_text(/counting…|Looking at the lines/)
      assert_no_selector "[aria-label='share of the lines looked at']"
    end

    # @return [Array<String>] messages in the list, as far as they are on screen
    def shown = lines("row.innerText")

    # Asked of the page at once: a list that is drawn anew meanwhile would have each of its rows waited for.
    # @param value [String] JavaScript
    # @return [Array] that of each line in the list, as far as they are on screen
    def lines(value)
      assert_selector "[data-line]"
      evaluate_script("[...document.querySelectorAll('[data-line]')].map((row) => #{value})")
    end

    def total = find("[data-total]").text[/[\d,]+/].delete(",").to_i

    # A page that was drawn anew meanwhile is looked at again.
    def eventually(what = nil, **options)
      super(
        what || caller_locations(1, 1).first.then { |asked| "#{File.basename(asked.path)}:#{asked.lineno}" }, **options
      ) do
        yield
      rescue Selenium::WebDriver::Error::StaleElementReferenceError
        nil
      end
    end
  end
end
