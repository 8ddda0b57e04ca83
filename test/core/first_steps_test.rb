# frozen_string_literal: true

require_relative "../test_helper"

# What stands in braces is what the alert has as that field, and never more than that.
class FirstStepsTest < Minitest::Test
  include Northdrift

  FIELDS = {
    "host.name" => "mail-1", "service.name" => "a b/../c?x=1&y", "user.name" => "](javascript:alert(1)) *x*"
  }.freeze

  def fill(text) = Watch::FirstSteps.fill(text, FIELDS)

  def test_values_stand_for_themselves
    assert_equal "On mail-1: free room.", fill("On {host.name}: free room.")
    assert_equal 'Log out \](javascript:alert(1)) \*x\*.', fill("Log out {user.name}.")
    assert_equal "Log out ](javascript:alert(1)) *x*.", Watch::FirstSteps.plain("Log out {user.name}.", FIELDS)
  end

  # Percent-encoded as RFC 3986 section 2.1 has it: a value is one segment, or one value, and no further one.
  def test_values_are_one_part_of_an_address
    assert_equal "[book](https://wiki.example/a%20b%2F..%2Fc%3Fx%3D1%26y)",
                 fill("[book](https://wiki.example/{service.name})")
    assert_equal "https://wiki.example/?host=mail-1", fill("https://wiki.example/?host={host.name}")
    assert_equal "[x](/?on=%5D%28javascript%3Aalert%281%29%29%20%2Ax%2A)", fill("[x](/?on={user.name})")
  end

  def test_what_is_not_there_is_left_as_it_is
    assert_equal "{source.address}, {}, {{host.name", fill("{source.address}, {}, {{host.name")
  end
end
