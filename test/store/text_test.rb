# frozen_string_literal: true

require_relative "../test_helper"

# Texts that mean something to SQL, to LIKE, to the index or to C are texts like others.
class TextTest < Northdrift::StoreTest
  include Northdrift

  def test_text_behind_a_nul_byte_is_found
    import_text("2026-11-22 06:12:08 before\0behind the nul\n2026-11-22 06:12:09 another behind\n")
    assert_equal 2, question("*ehind*").total
    assert_equal 1, question("text ~ /ehind the/").total
    assert_equal ["2026-11-22 06:12:08 before\0behind the nul"], found("*efor*")
    assert_equal [["text"]], Store::Database.rows("SELECT DISTINCT typeof(body) FROM events"),
                 "the same, whichever process read it"
  end

  def test_values_that_stand_otherwise_in_the_record
    import_text("{\"time\":\"2026-11-22T06:12:08Z\",\"msg\":\"a\\u0000nulled\\ttab\",\"path\":\"C:\\\\Temp\\\\ü\"}\n")
    assert_equal 1, question("*ulled*").total
    assert_equal 1, question("*temp*").total
    assert_equal 1, question("message ~ /nulled\\ttab/").total
    assert_equal 1, question("path = \"C:\\\\Temp\\\\ü\"").total
  end

  def test_percent_underscore_and_backslash_are_themselves
    import_text(
      ["100% sure", "1000 sure", "a_b", "axb", "c\\d", "c\\\\d"].map { |text| "2026-11-22 06:12:08 #{text}\n" }.join
    )
    { "*0%*" => 1, "*a_b*" => 1, "*c\\d*" => 1, "*\\\\d*" => 1 }.each do |find, n|
      assert_equal n, question(find).total, find
    end
  end

  def test_long_fixed_texts
    import_text("2026-11-22 06:12:08 #{'ab' * 6000}c end\n")
    assert_equal 1, question("*#{'ab' * 4000}*").total
    assert_equal 0, question("*#{'ab' * 2000}bb*").total
    assert_equal 1, question("text ~ /#{'ab' * 200}c end/").total
  end

  def test_bytes_that_are_no_utf8_come_back
    raw = "2026-11-22 06:12:08 caf\xE9 \xFF\xFE closed".b
    import_text("#{raw}\n".b)
    event = question("closed").page.events.first
    assert_equal raw, event.raw
    assert_equal "caf\\xE9 \\xFF\\xFE closed", event.message
    assert_equal 1, question("*clos*").total
  end

  # Two megabytes are several segments, read by several processes and written in one transaction.
  def test_sources_that_share_a_transaction_keep_their_lines
    paths = (1..3).map do |number|
      write(
        "#{number}.log",
        Array
          .new(30_000) do |index|
            "#{(NOW - 40_000 + index).strftime('%b %e %T')} host-#{number} app: entry #{index} #{'z' * 20}\n"
          end
          .join
      )
    end
    summary = import(*paths)
    assert_equal [90_000, 90_000], [summary.events, question.total]
    paths.each_with_index do |path, index|
      assert_equal 30_000, question("host.name = host-#{index + 1}").total
      event = question("host.name = host-#{index + 1} \"entry 29999\"").page.events.first
      assert_equal [30_000, File.basename(path)], [event.line, File.basename(Store::Source.find(event.source_id).name)]
      assert_equal "#{event.raw}\n".b, File.binread(path, event.raw.bytesize + 1, event.offset)
    end
  end
end
