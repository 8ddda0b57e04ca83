# frozen_string_literal: true

require_relative "../test_helper"

# Machines and what they cannot do without: the graph, the table that is handed round, the hours.
class FleetTest < Minitest::Test
  include Northdrift

  Edge = Fleet::Dependencies::Edge

  def graph(*arrows)
    Fleet::Dependencies.new(
      arrows.map { |text| text.split.then { |machine, on, kind| Edge.new(machine, on, kind || "needs") } }
    )
  end

  TARNHOLM = [
    "gate app", "kiosk app", "kiosk switch", "app db", "app host runs-on", "db switch", "replica db", "host switch"
  ].freeze

  def test_reach_goes_along_what_is_needed_and_counts_the_steps
    assert_equal({ "gate" => 0, "app" => 1, "db" => 2, "host" => 2, "switch" => 3 }, graph(*TARNHOLM).reach("gate"))
    assert_equal(
      { "db" => 0, "app" => 1, "replica" => 1, "gate" => 2, "kiosk" => 2 }, graph(*TARNHOLM).dependants("db")
    )
    assert_equal({ "alone" => 0 }, graph(*TARNHOLM).reach("alone"))
  end

  def test_hosts_and_neighbours
    map = graph(*TARNHOLM, "other host runs-on")
    assert_equal ["host", nil], [map.host("app"), map.host("gate")]
    assert_includes map.neighbours("app"), "other"
    assert_includes map.neighbours("gate"), "kiosk"
    refute_includes map.neighbours("gate"), "app"
  end

  def test_tiers_stand_on_what_they_need_and_circles_end
    tiers = graph(*TARNHOLM).tiers(%w[gate kiosk app db switch host replica alone])
    TARNHOLM
      .map(&:split)
      .each { |above, below,| assert_operator tiers[above], :>, tiers[below], "#{above} on #{below}" }
    assert_equal 0, tiers["alone"]
    assert_equal %w[a b c], graph("a b", "b c", "c a").tiers(%w[a b c]).keys
  end

  # RFC 4180, section 2: quotes around what holds a comma or a break, doubled within.
  def test_a_table_is_read_from_csv_and_json_and_comes_back
    csv = "Machine,site,tags,needs,runs_on\r\nalder,\"north, shore\",web;hot,birch;cedar,host-1\r\nbirch,,,,\r\n"
    machines = Fleet::Roster.read(csv)
    assert_equal ["alder", "north, shore", nil, %w[web hot], %w[birch cedar], "host-1"], machines.first.to_a
    assert_equal machines, Fleet::Roster.read(Fleet::Roster.to_csv(machines))
    assert_equal machines, Fleet::Roster.read(Fleet::Roster.to_json(machines))
    assert_equal machines.first(1),
                 Fleet::Roster.read(
                   '[{"machine":"alder","site":"north, shore","tags":["web","hot"],"needs":"birch ' \
                   'cedar","runs_on":"host-1"}]'
                 )
  end

  def test_no_cell_is_a_formula_and_comes_back_as_it_was
    machine = Fleet::Roster::Machine.new(name: "alder", site: "=1+1", role: "-x", tags: [], needs: [], runs_on: nil)
    csv = Fleet::Roster.to_csv([machine])
    refute_match(/(^|,)[=+@-]/, csv)
    assert_equal [machine], Fleet::Roster.read(csv)
  end

  MISTAKES = {
    "" => "the first line must name the columns", "machine\n" => "there is no machine in it",
    "name,site\nx,y\n" => "the first line must name the columns",
    "machine,colour\nx,red\n" => "there is no column “colour”",
    "machine\n\n,\n" => "line 2: the machine's name is missing",
    "machine,needs\nalder,alder\n" => "line 2: alder cannot need itself", "machine\nal der\n" => "is no machine's name",
    "machine\nalder\nalder\n" => "stands in it twice", "{\"machines\": 3}" => "must hold a list",
    "[1]" => "machine 1 is no object", "[{" => "it is no JSON", "machine,site\n\"alder,x\n" => "it is no CSV",
    "machine\n\xFF\n" => "no text in UTF-8"
  }.freeze

  MISTAKES.each_with_index do |(text, words), index|
    define_method("test_mistake_#{index}_says_where") do
      assert_includes assert_raises(Fleet::Roster::Mistake) { Fleet::Roster.read(text) }.message, words
    end
  end

  HOUR = 3_600_000_000
  DAY = 24 * HOUR

  def stretch(machine, state, from, to) = Fleet::Availability::Stretch.new(machine, state, from, to, nil)

  # Worked by hand: of 48 hours of two machines, one known from its sixth hour on.
  def test_availability_counts_each_moment_once
    found =
      Fleet::Availability.new(
        0, 2 * DAY,
        since: { "alder" => 0, "birch" => 6 * HOUR },
        stretches: [
          stretch("alder", :down, 2 * HOUR, 5 * HOUR), stretch("alder", :down, 4 * HOUR, 6 * HOUR),
          stretch("alder", :silent, HOUR, 7 * HOUR), stretch("birch", :silent, 23 * HOUR, 26 * HOUR),
          stretch("cedar", :down, 0, DAY)
        ]
      )
    first, second = found.days(%w[alder birch])
    assert_equal([42, 4, 3, 35], [first.known_us, first.down_us, first.silent_us, first.up_us].map { |us| us / HOUR })
    assert_equal(
      [48, 0, 2, 46], [second.known_us, second.down_us, second.silent_us, second.up_us].map { |us| us / HOUR }
    )
    assert_equal(0, found.days(%w[nobody]).sum(&:known_us))
  end

  # Oslo's clocks went from 03:00 to 02:00 on 25 October 2026 (IANA time zone database): that day had 25 hours.
  def test_days_are_those_of_a_zone
    start = Time.utc(2026, 10, 23, 22).to_i * 1_000_000
    days =
      Fleet::Availability.new(
        start, start + (3 * DAY),
        since: { "alder" => start }, stretches: [stretch("alder", :down, start + DAY, start + DAY + HOUR)],
        zone: ActiveSupport::TimeZone["Europe/Oslo"]
      ).days(["alder"])
    assert_equal([24, 25, 23], days.map { |day| day.known_us / HOUR })
    assert_equal([0, 1, 0], days.map { |day| day.down_us / HOUR })
  end

  def test_who_names_whom_proposes_arrows
    counts = {
      %w[gate app] => 40, %w[app gate] => 3, %w[app db] => 30, %w[db app] => 29, %w[kiosk app] => 2, %w[gate db] => 9
    }
    found = Fleet::Namings.proposals(counts, graph("gate db"))
    assert_equal([["gate", "app", 40, 3]], found.map(&:to_a))
  end
end
