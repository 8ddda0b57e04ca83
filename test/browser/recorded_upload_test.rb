# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"
require_relative "../support/recorded_truth"
require "oj"

# Ten logs of real programs, dropped where there is nothing yet by a person in Oslo: without any setting their machines,
# times and services are right, and a restart is told. What they hold is computed from the programs' manuals, see
# RecordedTruth.
class RecordedUploadTest < Northdrift::BrowserTest
  plays demo: false, moment: Time.utc(2026, 11, 30, 14)

  AGAIN = File.join(Northdrift::RecordedTruth::FOLDER, "again/broker.log")
  FILES = %w[
    chat.log second-tunnel.log light-error.log go.log php-error.log python-workers.log second-servlets.log
    second-zones.log quorum.log
  ].freeze
  HERE = "upload-2026-11-30-1500"

  def test_machines_times_services_and_a_restart
    page.driver.browser.execute_cdp("Emulation.setTimezoneOverride", timezoneId: "Europe/Oslo")
    open_page
    assert_text "Drop log files here"
    drop
    assert_selector "li", text: /lines read/, count: FILES.size + 1
    assert_text "Lines that name no machine are of #{HERE}."
    FILES.each { |name| assert_equal times(name), span(name), name }

    visit "#{place.address}/fleet"
    assert_equal ["vm", HERE].sort, all("[data-machine]", minimum: 2).map { |one| one["data-machine"] }.sort
    rename(HERE, "hall")

    visit "#{place.address}/logbook/restarts"
    restarts = all("[data-restart]", minimum: 2).map(&:text)
    assert_equal 2, restarts.size
    restarts.each { |text| assert_match(/hall.*mosquitto/m, text) }
    services = asked("/api/status")["services"]
    assert_includes services, "pacemakerd"
  end

  private

  def drop
    paths = FILES.map { |name| File.join(Northdrift::RecordedTruth::FOLDER, name) } << AGAIN
    page.execute_script(Northdrift::DROP, paths.map { |path| [File.basename(path), File.read(path)] })
  end

  def rename(name, other)
    click_button "change #{name}"
    within("[role=dialog]") do
      click_button "Rename"
      fill_in "name of #{name}", with: other
      find_field("name of #{name}").find(:xpath, "ancestor::form").click_button("Keep")
    end
    assert_selector "[data-machine=#{other}]"
    assert_no_selector "[data-machine='#{name}']"
  end

  # @return [Array<Integer>] microseconds of the first and the last of its records
  def times(name)
    records = Northdrift::RecordedTruth.new(name).records.filter_map(&:time)
    records.minmax.map { |time| (time.to_r * 1_000_000).to_i }
  end

  def span(name)
    lines = asked("/api/lines?limit=1000&find=#{CGI.escape("source = #{name}")}")["lines"]
    lines.map { |line| line["time_us"] }.minmax
  end

  def asked(path) = Oj.load(Net::HTTP.get(URI("#{place.address}#{path}")))
end
