# frozen_string_literal: true

require_relative "../test_helper"

class PatternsTest < Minitest::Test
  include Northdrift
  include Northdrift::Patterns

  # Messages of programs (common practice, no source), and their templates.
  TEMPLATES = {
    "Accepted publickey for root from 10.0.0.5 port 51234 ssh2" => "Accepted publickey for … from … port …",
    "session opened for user ida(uid=1000) by (uid=0)" => "session opened for user …(uid=…) by (uid=…)",
    "GET /seats/12?view=plan HTTP/1.1" => "GET …=… HTTP/…",
    "device /dev/sda1 is 93% full" => "device … is … full",
    "request 3f2c9a10-77aa-4f0e-9d5c-0a1b2c3d4e5f took 350ms" => "request … took …",
    "mtu 9000 -> 1500" => "mtu … -> …",
    'user "Ida Berg" not found' => "user … not found",
    "read/write error" => "read/write error",
    "no variable part" => "no variable part",
    "AH01626: authorization result of <RequireAny>: denied" => "AH01626: authorization result of …: denied",
    "bookingd.service: Failed with result 'oom-kill'." => "…: Failed with result ….",
    "it can't be helped, isn't it" => "it can't be helped, isn't it",
    "query[AAAA] quay.example from 10.0.0.1" => "query[…] … from …",
    "statement: drop table seats cascade" => "statement: …",
    "status installed libtirpc-common:all 1.3" => "status installed …",
    "moved ida@c.example, olav@c.example and kari@c.example" => "moved …, … and …",
    "eth0: link up, 1000 Mb/s" => "… link up, … Mb/s",
    "level=warn user=ida took=30ms" => "level=… user=… took=…",
    "first line\n\tat second line 7" => "first line",
    "" => ""
  }.freeze

  TEMPLATES.each_with_index do |(message, expected), index|
    define_method("test_template_#{index}") do
      assert_equal expected, Mask.template(message.b).dup.force_encoding("UTF-8"), message
    end
  end

  def test_bytes_that_are_no_text_have_a_template_too
    assert_equal "caf\xE9 ".b << "…".b << " closed".b, Mask.template("caf\xE9 17 closed".b)
  end

  # But in the number that a program gives its message.
  def test_a_template_never_holds_a_digit
    random = Random.new(11)
    500.times do
      message =
        Array
          .new(random.rand(1..12)) do
            ["a", "b7", "10.2.3.4", "=", "x=5", "/a/b", "\"q 1\"", ",", "(3)", "é9", "-> 5"][random.rand(11)]
          end
          .join(" ")
      refute_match(/[0-9]/, Mask.template(message.b).dup.force_encoding("UTF-8").delete("…"), message)
    end
  end

  # @return [Hash{String=>String}] text of the pattern that each template ends up in
  def grouped(templates)
    tree = Tree.new
    joined = {}
    of = templates.uniq.each_with_index.to_h do |template, index|
      pattern =
        tree.place(template) ||
        tree
          .add(index, template)
          .tap { |new| tree.join(new).then { |first, *rest| rest.each { |other| joined[other.id] = first } } }
      [template, pattern]
    end
    of.transform_values do |pattern|
      pattern.tap { pattern = joined[pattern.id] while joined[pattern.id] }.then { pattern.text }
    end
  end

  NAMES = %w[ida olav kari berit sigrid nils anna per lise jon eva tor].freeze

  def test_a_word_of_many_forms_is_open_in_whatever_order_they_come
    templates = NAMES.flat_map { |name| ["badge of #{name} accepted", "badge of #{name} refused", "#{name} left"] }
    expected = templates.to_h { |template| [template, template.sub(/#{NAMES.join('|')}/, "…")] }
    3.times { |seed| assert_equal expected, grouped(templates.shuffle(random: Random.new(seed))) }
  end

  def test_words_of_few_forms_tell_things_apart
    templates =
      %w[blocking forwarding disabled].map { |state| "port … entered #{state} state" } +
      ["disk … is full", "disk … is nearly full", "disk … was removed"]
    assert_equal templates, grouped(templates).values
  end

  def test_a_word_stands_for_what_is_open_elsewhere
    assert_equal ["… entered quiet mode"], grouped(["lo: entered quiet mode", "… entered quiet mode"]).values.uniq
    # But not where there is little else to go by.
    assert_equal 2, grouped(["config … is", "… … is"]).values.uniq.size
  end

  def test_the_messages_own_number_decides
    assert_equal ["AH01626: authorization result of …", "AH01627: authorization result of … denied"],
                 grouped(
                   [
                     "AH01626: authorization result of … denied",
                     "AH01626: authorization result of valid-user granted by hook",
                     "AH01627: authorization result of … denied"
                   ]
                 ).values.uniq
  end

  # However many words there are, a template is placed among a bounded number of others.
  def test_endless_words_end_in_few_patterns
    random = Random.new(5)
    grown = Tree.new
    count = 0
    3000.times do |index|
      grown.place(template = Array.new(6) { random.rand(1 << 40).to_s(36).tr("0-9", "x") }.join(" ")) ||
        (count += 1) && grown.add(index, template)
    end
    assert_operator count, :<, 3000
  end
end
