# frozen_string_literal: true

require "capybara"
require "capybara/dsl"
require "net/http"
require "selenium-webdriver"
require "tmpdir"

module Northdrift
  # The real interface in headless Chromium, on a server with a small demo world.
  module Browser
    ENV["SE_OFFLINE"] = "true"
    BINARY = "/usr/bin/chromium"
    DRIVER = "/usr/bin/chromedriver"
    ARGUMENTS = %w[--headless=new --no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking --disable-component-update --disable-sync --disable-dev-shm-usage --force-prefers-reduced-motion].freeze
    SIZE = [1280, 800].freeze

    Capybara.register_driver :northdrift do |app|
      options = Selenium::WebDriver::Chrome::Options.new(binary: BINARY)
      [*ARGUMENTS, "--user-data-dir=#{Dir.mktmpdir('northdrift-chromium')}", "--window-size=#{SIZE[0]},#{SIZE[1] + 140}"].each { |argument| options.add_argument(argument) }
      options.logging_prefs = { browser: "ALL" }
      Capybara::Selenium::Driver.new(app, browser: :chrome, options: options, service: Selenium::WebDriver::Service.chrome(path: DRIVER))
    end

    module_function

    # Starts the processes that a person would start, once for all tests.
    # @param demo [Boolean, Symbol] with the demo world, or with nothing; by a name: with nothing, and for itself
    # @return [String] address
    def server(demo: true)
      @servers ||= {}
      @servers[demo] ||= start(demo)
    end

    def start(demo)
      dir = Dir.mktmpdir("northdrift-browser")
      data = demo == true ? build(dir) : File.join(dir, "data")
      port = TCPServer.open("127.0.0.1", 0) { |server| server.addr[1] }
      log = File.join(dir, "server.log")
      pid = Process.spawn(File.join(ROOT, "bin/northdrift"), "serve", "--data", data, "--port", port.to_s, out: log, err: log, pgroup: true)
      Minitest.after_run { stop(pid, dir) }
      wait(port, log)
      "http://127.0.0.1:#{port}"
    end

    def build(dir)
      pid = fork do
        Demo::Builder.build(dir)
        exit!(0)
      end
      Process.wait(pid)
      Demo::Builder.data_dir(dir)
    end

    def wait(port, log)
      200.times do
        return if Net::HTTP.get_response("127.0.0.1", "/api/status", port).is_a?(Net::HTTPSuccess)
      rescue SystemCallError
        sleep 0.3
      end
      raise "the server did not start: #{File.read(log)}"
    end

    def stop(pid, dir)
      Process.kill(:TERM, -pid)
      Process.wait(pid)
    rescue SystemCallError
      nil
    ensure
      FileUtils.rm_rf(dir)
    end
  end

  class BrowserTest < Minitest::Test
    include Capybara::DSL

    def setup
      Capybara.default_driver = :northdrift
      Capybara.run_server = false
      Capybara.enable_aria_label = true
      Capybara.default_max_wait_time = 60
    end

    # When a person types over selected text, Chromium itself tries to keep the text's style with a style attribute; the
    # policy refuses it, and the editor draws its own. Nothing of ours asks for inline styles.
    HARMLESS = /status of 422|Applying inline style violates/

    # What a page must never have: errors in its console (the content security policy reports there too).
    def teardown
      errors = page.driver.browser.logs.get(:browser).select { |entry| entry.level == "SEVERE" && !entry.message.match?(HARMLESS) }
      Capybara.reset_sessions!
      assert_empty errors.map(&:message)
    end

    def open_page(path = "/", demo: true) = visit("#{Browser.server(demo: demo)}#{path}")

    def keys(*all) = all.each { |key| page.driver.browser.action.send_keys(key).perform }

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

    def eventually(message = "it did not come so", seconds: 60, &block)
      asked = caller_locations(1, 1).first
      deadline = Process.clock_gettime(Process::CLOCK_MONOTONIC) + seconds
      until (result = fresh(&block))
        flunk "#{message} (line #{asked.lineno})" if Process.clock_gettime(Process::CLOCK_MONOTONIC) > deadline
        sleep 0.1
      end
      result
    end

    # @return [Object, nil] nil when the page was drawn anew meanwhile
    def fresh
      yield
    rescue Selenium::WebDriver::Error::StaleElementReferenceError
      nil
    end
  end
end
