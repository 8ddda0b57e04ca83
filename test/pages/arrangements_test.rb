# frozen_string_literal: true

require_relative "../test_helper"

# How pages arrange what they show.
class ArrangementsTest < Minitest::Test
  include Northdrift

  # Boxes of the map stand apart, within its width, those that need nothing lowest; and all of them are there.
  def test_boxes_of_the_map
    random = Random.new(8)
    20.times do
      machines = Array.new(random.rand(1..60)) { |index| { "machine" => "m-#{index}", "tier" => random.rand(0..4) } }
      edges =
        Array.new(random.rand(0..80)) do
          {
            "machine" => machines.sample(random: random)["machine"],
            "on" => ["nobody", machines.sample(random: random)["machine"]].sample(random: random)
          }
        end
      width = random.rand(140..1400)
      found = FrontEnd.call([["layout", "layout", machines, edges, width, 700]]).first
      boxes = found["placed"]
      assert_equal machines.map { |one| one["machine"] }.sort, boxes.map { |box| box["machine"]["machine"] }.sort
      boxes.each do |box|
        assert box["x"] >= -0.01 && box["x"] + 118 <= width + 0.01 && box["y"] + 40 <= found["height"], box
      end
      boxes.combination(2) do |one, other|
        assert (one["x"] - other["x"]).abs >= 117.99 || (one["y"] - other["y"]).abs >= 40, [one, other]
      end
      boxes.combination(2) do |one, other|
        assert_operator one["y"], :<=, other["y"], [one, other] if one["machine"]["tier"] > other["machine"]["tier"]
      end
    end
    assert_empty FrontEnd.call([["layout", "layout", [], [], 800, 700]]).first["placed"]
  end

  def happening(rule, machine, minutes, kind: "service-failure", says: rule)
    {
      "id" => "#{rule}#{minutes}", "rule" => rule, "machine" => machine, "kind" => kind, "says" => says,
      "time_us" => (minutes * 60_000_000).to_i
    }
  end

  # What comes again within a quarter of an hour is one row, at the place of its first.
  def test_what_comes_again_is_folded
    all = [
      happening("a", "m", 0), happening("b", "m", 1), happening("a", "m", 10), happening("a", "n", 11),
      happening("a", "m", 25), happening("a", "m", 40.1)
    ]
    assert_equal(
      [["a", "m", 3, 25], ["b", "m", 1, 1], ["a", "n", 1, 11], ["a", "m", 1, 40.1]],
      FrontEnd
        .call([["fold", "fold", all]])
        .first
        .map { |row| [row["first"]["rule"], row["first"]["machine"], row["count"], row["last"]["time_us"] / 6e7] }
    )
    # What somebody did on purpose is told each time that it says something else.
    changes = [
      happening("c", "m", 0, kind: "change", says: "mtu 9000"),
      happening("c", "m", 1, kind: "change", says: "mtu 1500"), happening("c", "m", 2, kind: "change", says: "mtu 9000")
    ]
    assert_equal([2, 1], FrontEnd.call([["fold", "fold", changes]]).first.map { |row| row["count"] })
    random = Random.new(4)
    many =
      Array
        .new(400) do |index|
          happening(
            %w[a b].sample(random: random), %w[m n].sample(random: random), index * random.rand(1..9) * 0.1 + index,
            says: "x"
          )
        end
        .sort_by { |one| one["time_us"] }
    rows = FrontEnd.call([["fold", "fold", many]]).first
    assert_equal(400, rows.sum { |row| row["count"] })
    assert_equal(rows.map { |row| row["first"]["time_us"] }.sort, rows.map { |row| row["first"]["time_us"] })
  end

  # The sentence's words for what a question is compared with.
  def test_what_it_is_compared_with
    window = FrontEnd.call([["compared", "interval", 1_795_305_600_000_000, 1_795_309_200_000_000]]).first
    assert_equal "2026-11-22T00:00:00Z/2026-11-22T01:00:00Z", window
    assert_equal [[1_795_305_600_000_000, 1_795_309_200_000_000], nil, nil],
                 FrontEnd.call([window, "before", "x/y"].map { |text| ["compared", "intervalOf", text] })
    assert_equal ["nothing", "the day before", "alder", "alder", "lost"],
                 FrontEnd.call(
                   ["", "day", "host.name = alder", 'host.name = "alder"', "lost"].map do |text|
                     ["compared", "comparedName", text, "UTC"]
                   end
                 )
  end
end
