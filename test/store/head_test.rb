# frozen_string_literal: true

require_relative "../test_helper"

class HeadTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  # Any stamp at the start of a line, in any of its forms, is restored to the letter.
  def test_random_stamps_come_back
    random = Random.new(9)
    forms = [
      "%Y-%m-%dT%H:%M:%S.%6NZ ", "<13>1 %Y-%m-%dT%H:%M:%S.%3NZ ", "%Y-%m-%dT%H:%M:%SZ ", "%b %e %H:%M:%S ",
      "<34>%b %e %H:%M:%S ", "%Y-%m-%dT%H:%M:%S.%6N+00:00 ", "%Y-%m-%d %H:%M:%S,%3N ", "%Y-%m-%dT%H:%M:%S.%2NZ ",
      "[%Y-%m-%dT%H:%M:%S.%3NZ] "
    ]
    shorter = 0
    2000.times do
      time = Time.at(0, random.rand(2_000_000_000_000_000), :microsecond, in: "UTC")
      head = time.strftime(forms[random.rand(forms.size)]).b
      # The time that a reader would take from it: as exact as it is written, or another when a zone or a year is
      # inferred.
      us =
        [micros(time), micros(time) / 1000 * 1000, micros(time) / 1_000_000 * 1_000_000, micros(time) + 3_600_000_000][
          random.rand(4)
        ]
      short = Store::Head.shorten(head + head, head.bytesize, us)
      shorter += 1 if short.bytesize < head.bytesize
      assert_equal head, Store::Head.restore(short, us)
    end
    assert_operator shorter, :>, 300
  end
end
