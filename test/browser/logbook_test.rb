# frozen_string_literal: true

require_relative "../test_helper"
require_relative "support"

# The fleet's story, as a person reads it who comes in the morning.
class LogbookBrowserTest < Northdrift::BrowserTest
  plays shared: true

  def told = evaluate_script("[...document.querySelectorAll('[data-happening]')].map((one) => one.innerText)")

  def test_from_the_story_of_the_days_to_the_lines_that_tell_it
    open_page
    click_link "Logbook"
    eventually { told.any? { |row| row.include?("kernel panic: Fatal exception in interrupt") } }
    refute(told.any? { |row| row.include?("logged on from") })
    # What comes again and again is told once.
    certificates = told.grep(/certificate CN=booking.tarnholm.example has run out/)
    assert_equal [1, true], [certificates.size, certificates.first.match?(/and \d+ more until 07:/)]

    fill_in "Words", with: "olav"
    eventually { told.any? && told.all? { |row| row.include?("olav") } }
    assert(told.any? { |row| row.include?("olav changed the configuration: interface vlan 40, mtu 9000 -> 1500") })
    fill_in "Words", with: ""
    eventually { told.any? { |row| row.include?("kernel panic") } }
    find("[data-happening]", text: "kernel panic", match: :first).click_link("lines")
    eventually { shown.any? { |row| row.include?("Kernel panic - not syncing") } }
    assert_selector "[aria-label='Chosen line']", text: "Kernel panic - not syncing"
  end

  def test_it_is_narrowed_by_machine_and_kind_and_the_link_keeps_that
    open_page("/logbook?machine=tix-app-1&kind=memory-kill,service-failure")
    eventually { told.size == 2 }
    assert_equal ["bookingd (process 2217) was killed for want of memory", "bookingd.service failed: oom-kill"],
                 all("[data-happening] span", text: /bookingd/).map(&:text).uniq.first(2)
    open_page("/logbook?text=nothing%20like%20this")
    assert_text "Nothing of the kind happened."
  end
end
