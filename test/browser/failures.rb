# frozen_string_literal: true

module Northdrift
  # What is kept of a test of the interface that failed, for whoever has to find out why: the picture, the console, the
  # words.
  module Failures
    FOLDER = File.join(ROOT, "tmp/failures")
    # One line for each test that passed only when it was tried again: a fault to be mended. bin/test prints them.
    AGAIN = File.join(FOLDER, "tried-again.txt")

    module_function

    # @param console [Array<Selenium::WebDriver::LogEntry>]
    def keep(test, page, console)
      FileUtils.mkdir_p(FOLDER)
      path = File.join(FOLDER, "#{test.class}-#{test.name}".gsub(/[^\w-]/, "_"))
      said = [
        "#{test.class}##{test.name}", page.current_url, *test.failures.map(&:message), "", "Console:",
        *console.map(&:to_s)
      ]
      File.write("#{path}.txt", said.join("\n"))
      page.save_screenshot("#{path}.png")
    rescue Selenium::WebDriver::Error::WebDriverError, SystemCallError => error
      warn "what failed could not be kept: #{error.message.lines.first}"
    end

    def tried_again(name, result)
      FileUtils.mkdir_p(FOLDER)
      File.write(AGAIN, "#{name}: #{result.failures.first.message.lines.first(2).join(' ').strip}\n", mode: "a")
    end
  end
end
