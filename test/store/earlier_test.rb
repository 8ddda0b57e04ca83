# frozen_string_literal: true

require_relative "../test_helper"
require_relative "../server/asking"
require "zlib"

# Data folders that earlier versions wrote, one of each form that there was: sample.txt, read by the program of the
# time. They are opened, asked, and written on.
class EarlierTest < Northdrift::AskingTest
  include Northdrift

  FOLDER = File.join(__dir__, "earlier")
  FORMS = Dir.children(FOLDER).filter_map { |name| name[/\A(\d+)\.db\.gz\z/, 1] }.sort
  # These came together with the one behind them.
  NEVER_ALONE = %w[011 017 018 020].freeze
  LINES = File.readlines(File.join(FOLDER, "sample.txt"), chomp: true)

  def open(form)
    ActiveRecord::Base.connection_handler.clear_all_connections!
    FileUtils.rm_rf(@data)
    FileUtils.mkdir_p(@data, mode: 0o700)
    packed = File.binread(File.join(FOLDER, "#{form}.db.gz"))
    File.binwrite(File.join(@data, "northdrift.db"), Zlib.gunzip(packed))
    Store::Database.open(@data)
  end

  # Who adds a form adds a folder of the one before.
  def test_there_is_one_of_each
    forms = Dir.children(Store::Database::MIGRATIONS).map { |name| name[/\d+/] }.sort
    assert_empty forms[..-2] - FORMS - NEVER_ALONE
  end

  FORMS.each do |form|
    define_method("test_form_#{form}") do
      open(form)
      assert_equal LINES.sort, found.flat_map { |text| text.split("\n") }.sort
      assert_equal 1, question("cannot").total
      assert_equal({ "alder" => 4, "birch" => 1 },
                   question.histogram(by: :machine, bins: 1).series.to_h { |one| [one.name, one.total] })
      %w[status lines histogram silences logbook restarts fleet fleet/map cases searches imports feeds keeping relays]
        .each do |path|
          get("/api/#{path}", {}, HOST)
          assert_equal 200, last_response.status, "#{path}: #{last_response.body[0, 300]}"
        end
      line = question("4711").page.events.first
      assert_match(/order … of (?:ann|…) took …/, line.pattern_text)
      assert_equal 4, Store::Sight.within("host.name = alder") { question.total }
      import_text("2026-11-22T06:00:00Z alder shop[9]: order 4713 of ann took 9 ms\n")
      assert_equal 2, question("ann order").total
      seen = Store::SeenBefore.new(Store::KnownPatterns.current.of(line.template_id), line.time_us)
      assert_includes 2..3, seen.total, "the first version took all persons for one pattern"
    end
  end
end
