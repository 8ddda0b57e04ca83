# frozen_string_literal: true

require_relative "../test_helper"

class PatternsTest < Minitest::Test
  include Northdrift
  include Northdrift::Patterns

  # Messages of programs (common practice, no source), and their templates.
  TEMPLATES = {
    "Accepted publickey for root from 10.0.0.5 port 51234 ssh2" => "Accepted publickey for root from … port … …",
    "session opened for user ida(uid=1000) by (uid=0)" => "session opened for user ida(uid=…) by (uid=…)",
    "GET /seats/12?view=plan HTTP/1.1" => "GET …=… HTTP/…",
    "device /dev/sda1 is 93% full" => "device … is … full",
    "request 3f2c9a10-77aa-4f0e-9d5c-0a1b2c3d4e5f took 350ms" => "request … took …",
    "mtu 9000 -> 1500" => "mtu … -> …",
    'user "Ida Berg" not found' => "user … not found",
    "read/write error" => "read/write error",
    "no variable part" => "no variable part",
    "eth0: link up, 1000 Mb/s" => "… link up, … Mb/s",
    "level=warn user=ida took=30ms" => "level=… user=… took=…",
    "first line\n\tat second line 7" => "first line",
    "" => ""
  }.freeze

  TEMPLATES.each_with_index do |(message, expected), index|
    define_method("test_template_#{index}") { assert_equal expected, Mask.template(message.b).dup.force_encoding("UTF-8"), message }
  end

  def test_bytes_that_are_no_text_have_a_template_too
    assert_equal "caf\xE9 ".b << "…".b << " closed".b, Mask.template("caf\xE9 17 closed".b)
  end

  def test_a_template_never_holds_a_digit
    random = Random.new(11)
    500.times do
      message = Array.new(random.rand(1..12)) { ["a", "b7", "10.2.3.4", "=", "x=5", "/a/b", "\"q 1\"", ",", "(3)", "é9", "-> 5"][random.rand(11)] }.join(" ")
      refute_match(/[0-9]/, Mask.template(message.b).force_encoding("UTF-8").delete("…"), message)
    end
  end

  def tree(*templates)
    tree = Tree.new
    templates.each_with_index { |template, index| tree.place(template) || tree.add(index + 1, template) }
    tree
  end

  def test_templates_that_share_most_words_are_one_pattern
    grown = tree("accepted password for ida on east", "accepted password for olav on east")
    pattern = grown.place("accepted password for kari on west")
    assert_equal [1, "accepted password for … on …"], [pattern.id, pattern.text]
  end

  def test_templates_of_other_length_start_or_words_stay_apart
    grown = tree("disk … is full", "disk … is nearly full", "link … is full", "disk … was removed")
    assert_equal([1, 2, 3, 4], ["disk … is full", "disk … is nearly full", "link … is full", "disk … was removed"].map { |template| grown.place(template).id })
  end

  def test_a_pattern_does_not_close_again
    grown = tree("nightly job a ended well", "nightly job b ended well")
    assert_equal "nightly job … ended well", grown.place("nightly job a ended well").text
  end

  # However many words there are, a template is placed among a bounded number of others.
  def test_endless_words_end_in_few_patterns
    random = Random.new(5)
    grown = Tree.new
    count = 0
    3000.times { |index| grown.place(template = Array.new(6) { random.rand(1 << 40).to_s(36).tr("0-9", "x") }.join(" ")) || (count += 1) && grown.add(index, template) }
    assert_operator count, :<, 3000
  end
end
