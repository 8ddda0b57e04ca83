# frozen_string_literal: true

require_relative "../test_helper"

class SeverityTest < Minitest::Test
  include Northdrift
  include Northdrift::Helpers

  # Messages as programs write them (common practice, no source), and what they tell.
  MESSAGES = {
    "ERROR: relation does not exist" => "error", "LOG:  checkpoint complete" => "informational",
    "FATAL:  the database system is shutting down" => "critical", "[warn] child did not exit" => "warning",
    "<error> device eth0 went away" => "error", "|info| bridge added" => "informational",
    "[core:error] client denied" => "error", "2026 INFO  com.example.Pool - up" => "informational",
    "2026 WARN  com.example.Pool - slow" => "warning", "warning: line too long" => "warning",
    "DEBUG entering" => "debug", "Kernel panic - not syncing" => "critical",
    "bookingd[1]: segfault at 0 ip 0" => "critical", "Out of memory: Killed process 5" => "critical",
    "authentication failure; logname=" => "error", "Traceback (most recent call last):" => "error",
    "unit entered failed state" => "error", "process exited unexpectedly" => "error", "connection refused" => "warning",
    "request timed out" => "warning", "certificate expired" => "warning", "access denied for user" => "warning",
    "cannot open file" => "warning", "0 errors found" => "unset", "completed without errors" => "unset",
    "no error" => "unset", "started session 5" => "unset", "user-error-page.html served" => "unset",
    "the errorless run" => "unset", "information desk opened" => "unset", "no failures, but link timeout" => "warning",
    "" => "unset", "\xFF\xFE error" => "error"
  }.freeze

  MESSAGES.each_with_index do |(message, expected), index|
    define_method("test_message_#{index}") do
      assert_equal expected, Severity.name(Reading::SeverityWords.read(message.b)[0]), message
    end
  end

  def test_a_level_word_deep_in_the_message_is_no_label
    assert_equal "unset", Severity.name(Reading::SeverityWords.read("#{'calm ' * 30}NOTICE that all went well")[0])
  end

  def test_every_level_word_is_one_of_the_eight
    Severity::WORDS.each { |word, code| assert_includes 0..8, code, word }
    assert_nil Severity.from_word("manifest")
    assert_equal 4, Severity.from_word("WaRn")
  end

  # Levels of JSON loggers (common practice, no source): syslog codes, and steps of ten.
  def test_level_numbers
    assert_equal(
      [3, 6, 7, 7, 6, 4, 3, 2, nil], [3, 6, 10, 20, 30, 40, 50, 60, 45].map { |number| Severity.from_number(number) }
    )
    assert_equal "error", Severity.name(read('{"level":50,"msg":"x"}').severity)
    assert_equal 45, read('{"level":45,"msg":"x"}').fields["level"]
  end

  # RFC 9110, section 15: the classes of status codes.
  def test_status_classes
    {
      200 => "informational", 301 => "informational", 399 => "informational", 400 => "warning", 499 => "warning",
      500 => "error", 599 => "error", 600 => "informational"
    }.each { |status, name| assert_equal name, Severity.name(Severity.from_http_status(status)), status }
  end

  def test_what_the_format_says_goes_before_what_the_words_say
    assert_equal "debug", Severity.name(read("<15>1 - - - - - - kernel panic, all lost").severity)
    assert_equal "informational", Severity.name(read('{"level":"info","msg":"fatal error"}').severity)
    assert_equal "error", Severity.name(read("Nov 22 06:12:08 sw-1 %LINK-3-UPDOWN: port 4 went down").severity)
  end
end
