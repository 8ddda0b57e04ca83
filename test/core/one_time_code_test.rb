# frozen_string_literal: true

require_relative "../test_helper"
require "rack/utils"

class OneTimeCodeTest < Minitest::Test
  include Northdrift

  # RFC 6238, appendix B, SHA-1: of the codes of eight digits there, the last six are those of six (RFC 4226, section
  # 5.3); written down from memory.
  SECRET = "GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ" # "12345678901234567890"
  {
    59 => "94287082", 1_111_111_109 => "07081804", 1_111_111_111 => "14050471", 1_234_567_890 => "89005924",
    2_000_000_000 => "69279037", 20_000_000_000 => "65353130"
  }.each do |at, code|
    define_method("test_the_code_of_#{at}") do
      assert_equal at / 30 * 30, check(code[-6..], at: at)
      assert_nil check(code, at: at)
    end
  end

  def check(code, **options) = People::OneTimeCode.check(SECRET, code, **options)

  def test_a_clock_may_be_off_by_a_step_and_no_more
    step = 1_111_111_080
    assert_equal([nil, step, step, nil], [-31, -30, 59, 60].map { |by| check("081804", at: step + by) })
  end

  def test_a_code_that_was_taken_is_taken_no_more
    assert_nil check("287082", at: 59, after: 30)
    assert_equal 30, check("287082", at: 59, after: 0)
  end

  def test_what_is_no_code
    ["", "28708", "2870821", "28708a", "２８７０８２", "287082\n0"].each do |text|
      assert_nil check(text, at: 59), text.inspect
    end
    assert_equal 30, check(" 287 082 ", at: 59), "as apps show it"
  end

  def test_secrets_are_of_160_bits_and_each_is_another
    secrets = Array.new(50) { People::OneTimeCode.secret }
    assert_equal [32], secrets.map(&:size).uniq
    assert_equal 50, secrets.uniq.size
  end

  def test_what_an_app_takes_in
    uri = URI(People::OneTimeCode.uri(SECRET, "Ann Ås / x"))
    assert_equal %w[otpauth totp], [uri.scheme, uri.host]
    assert_equal "Northdrift:Ann Ås / x", URI.decode_uri_component(uri.path.delete_prefix("/"))
    assert_equal [SECRET, "Northdrift"], Rack::Utils.parse_query(uri.query).values_at("secret", "issuer")
  end

  def test_recovery_codes
    codes = People::RecoveryCode.make
    assert_equal [10, 10], [codes.size, codes.uniq.size]
    codes.each { |code| assert_match(/\A[a-z2-9]{4}-[a-z2-9]{4}-[a-z2-9]{4}\z/, code) }
    typed = codes.first.upcase.tr("-", " ")
    assert_equal(*[codes.first, typed].map { |code| People::RecoveryCode.digest(code) })
  end
end
