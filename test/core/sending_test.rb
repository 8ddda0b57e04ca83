# frozen_string_literal: true

require_relative "../test_helper"

# Who is told of what, and what is said.
class SendingTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  ALERT = {
    name: "Disk full", severity: 3, tags: ["storage"], owner: "Network", machine: "mail-1",
    fields: { "host.site" => "tar" }
  }.freeze

  def tells?(given = {}, severity: ALERT[:severity], occasion: "raised", at: Time.utc(2026, 11, 23, 12), **parts)
    route = Sending::Route.new(given.merge(parts.transform_keys(&:to_s)))
    route.tells?(occasion, Watch::AlertSubject.new(**ALERT, severity: severity), micros(at))
  end

  def test_a_route_tells_what_is_bad_enough
    assert tells?({}, severity: 4)
    refute tells?(severity: 5)
    assert tells?({ "severity" => "debug" }, severity: 7)
    refute tells?({ "severity" => "critical" })
    assert tells?({ "severity" => "error" })
  end

  def test_a_route_tells_of_rules_tags_and_machines
    assert tells?(tags: %w[logons storage])
    refute tells?(tags: ["logons"])
    assert tells?(rules: ["Disk full"])
    refute tells?(rules: ["Disk"])
    assert tells?(find: "host.site = tar and severity >= error")
    refute tells?(find: "host.name = mail-2")
    assert tells?(find: "disk")
    assert tells?(owners: %w[Olav Network])
    refute tells?(owners: ["Olav"])
    assert tells?(find: "owner = Network")
  end

  def test_back_to_normal_is_told_where_it_is_wanted
    refute tells?(occasion: "back")
    assert tells?(back: true, occasion: "back")
  end

  # Monday, 23 November 2026.
  def test_hours_go_past_midnight_in_their_zone
    night = { "hours" => { "days" => ["mon"], "from" => "22:00", "to" => "06:00", "zone" => "Europe/Oslo" } }
    expected = { [23, 20, 59] => false, [23, 21, 0] => true, [24, 4, 59] => true, [24, 5, 0] => false,
                 [23, 3, 0] => false, [24, 21, 30] => false }
    expected.each do |(day, hour, minute), told|
      assert_equal told, tells?(night, at: Time.utc(2026, 11, day, hour, minute)), "#{day} #{hour}:#{minute}"
    end
  end

  # On the day of 25 hours, 25 October 2026, in Oslo: two o'clock comes twice.
  def test_hours_of_a_day_of_25_hours
    hours = { "hours" => { "from" => "02:00", "to" => "03:00", "zone" => "Europe/Oslo" } }
    told = (0..3).select { |hour| tells?(hours, at: Time.utc(2026, 10, 25, hour, 30)) }
    assert_equal [0, 1], told
  end

  UNFIT = {
    "severity" => [{ "severity" => "bad" }, "a severity is one of emergency"],
    "find" => [{ "find" => "host.name = (" }, "column"], "wait" => [{ "wait" => "soon" }, "a time from 1min to 7d"],
    "digest" => [{ "digest" => "1s" }, "a time from 1min"], "most" => [{ "most" => 0 }, "from 1 to 1000"],
    "hours" => [{ "hours" => { "from" => "25:00" } }, "such as 07:30"],
    "owners" => [{ "owners" => "Ida" }, "a list"], "tags" => [{ "tags" => "one" }, "a list"],
    "colour" => [{ "colour" => 1 }, "a route has no “colour”"], "text" => [{ "text" => "{% if x %}" }, "text: "],
    "subject" => [{ "subject" => "{{ x | }}" }, "subject: "]
  }.freeze

  def test_a_zone_that_there_is_not
    mistake = assert_raises(Rules::Mistake) { Rules::Hours.new({ "zone" => "Moon/Base" }) }
    assert_includes mistake.message, "there is no zone “Moon/Base”"
  end

  def test_what_will_not_do_is_told_at_its_part
    UNFIT.each do |part, (given, says)|
      mistake = assert_raises(Rules::Mistake, part) { Sending::Route.new(given) }
      assert_equal part, mistake.part
      assert_includes mistake.message, says
    end
  end

  TOLD = {
    "name" => "Disk <full>", "severity" => "error", "where" => "mail-1", "since" => "2026-11-23T12:00:00Z",
    "until" => "2026-11-23T13:00:00Z", "condition" => "disk full", "line_count" => 7, "cause" => nil,
    "remedy" => "Old logs were removed.", "first_steps" => "1. Look.", "link" => "http://x/alerts?show=all&alert=1",
    "lines" => [{ "time" => "2026-11-23T12:00:00Z", "message" => "<b>no space & left" }]
  }.freeze

  USUAL = { "alerts" => [TOLD], "occasion" => "raised", "more" => 0, "more_not_shown" => 0 }.freeze

  def values(**other) = USUAL.merge(other.transform_keys(&:to_s))

  def test_the_usual_text_has_what_is_known_and_no_more
    text = Sending::Template.new.text(values)
    ["ERROR Disk <full>", "mail-1", "The latest 1 of 7 lines:", "<b>no space & left", "Old logs were removed.",
     "1. Look.", "http://x/alerts?show=all&alert=1"].each { |part| assert_includes text, part }
    refute_includes text, "Likely cause"
    refute_match(/\n{3}/, text)
  end

  def test_back_to_normal_says_so
    template = Sending::Template.new
    assert_equal "Back to normal: Disk <full>, mail-1", template.subject(values(occasion: "back"))
    assert_includes template.text(values(occasion: "back")), "Until        2026-11-23T13:00:00Z"
    assert_equal "error: Disk <full>, mail-1 and 2 more", template.subject(values(more: 2))
  end

  def test_a_page_has_no_mark_up_of_a_line
    page = Sending::Template.new.html(values)
    assert_includes page, "&lt;b&gt;no space &amp; left"
    assert_includes page, "Disk &lt;full&gt;"
    refute_includes page, "<b>no"
    own = Sending::Template.new("", "{{ alerts[0].lines[0].message }}").html(values)
    assert_includes own, "<pre>&lt;b&gt;no space"
  end

  def test_a_subject_is_one_line
    template = Sending::Template.new("a{{ alerts[0].name }}\r\nBcc: x@example.org")
    assert_equal "aDisk <full> Bcc: x@example.org", template.subject(values)
  end

  def test_a_template_that_takes_too_much_still_tells
    text = Sending::Template.new("", "{% for i in (1..10000000) %}xxxxxxxxxx{% endfor %}").text(values)
    assert_operator text.size, :<, 1000
    assert_includes text, "Disk <full>"
  end
end
