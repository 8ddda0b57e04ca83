# frozen_string_literal: true

require_relative "../test_helper"
require "open3"

# Old lines are forgotten, put away, and brought back.
class KeepingTest < Northdrift::StoreTest
  include Northdrift

  DAY_US = Store::Question::DAY_US
  NOW_US = Time.utc(2026, 11, 23, 12).to_i * 1_000_000

  # A line of every sort that a reader knows, and lines over ten days.
  def fill
    import_text(
      "#{Examples::ALL.keys.join("\n")}\n2026-11-22 06:12:09 caf\xE9 bad byte\n\tjoined to it\n2026-11-22 06:12:10 " \
      "nul\0byte\n",
      name: "sorts.log"
    )
    import_text(
      Array
        .new(3000) do |index|
          "#{(Time.utc(2026, 11, 13, 12) + (index * 288)).strftime('%Y-%m-%dT%H:%M:%SZ')} quay craned: load=#{index}." \
            "50 lifted by #{%w[ida olav][index % 2]}\n"
        end
        .join, name: "days.log"
    )
  end

  def keep(now_us: NOW_US, **wanted) = Store::Forgetting.new(Store::Keeping.new(archive: true, **wanted)).run(now_us)

  # What people see of every line.
  def everything
    names = Store::Source.pluck(:id, :name).to_h
    question
      .to_enum(:each)
      .map do |event|
        [
          event.time_us, event.raw, event.severity, event.machine, event.service, event.message, event.fields,
          event.kind.reader, names[event.source_id], event.line, event.offset, event.pattern_text
        ]
      end
      .sort_by(&:inspect)
  end

  def counts
    %w[minute_counts template_counts].to_h { |table| [table, Store::Database.rows("SELECT * FROM #{table}").sort] }
  end

  def terms
    Store::Database.rows(
      "CREATE VIRTUAL TABLE IF NOT EXISTS temp.vocabulary USING fts5vocab('main', 'lines', 'instance')"
    )
    Store::Database.rows(
      "SELECT term, doc FROM temp.vocabulary WHERE term NOT LIKE char(57345) || '%' ORDER BY term, doc"
    )
  end

  def test_what_was_put_away_comes_back_as_it_was
    fill
    before = [everything, counts, terms]
    assert_equal before[0].size, keep(days: 0, now_us: NOW_US + (400 * DAY_US))
    assert_equal [0, 0, []], [question.total, Store::Database.value("SELECT count(*) FROM template_counts"), terms]
    Store::Archive
      .where(state: "away")
      .find_each { |archive| archive.update!(state: "coming") && Store::Returning.new(archive).bring_back }
    assert_equal ["back"], Store::Archive.distinct.pluck(:state)
    assert_equal before, [everything, counts, terms]
    assert_sound
    # Brought back lines stay until they are sent away.
    assert_equal 0, keep(days: 0, now_us: NOW_US + (400 * DAY_US))
    Store::Archive.find_each { |archive| Store::Returning.new(archive).take_away }
    assert_equal 0, question.total
    assert_sound
  end

  # Numbers of every size and sign (doubles by their bits, IEEE 754; integers of more digits than a double tells apart),
  # and texts with every byte, are put away and brought back to the last digit.
  def test_random_numbers_come_back_from_an_archive_as_they_were
    random = seeded(41)
    import_text("#{Array.new(often(400, 20_000)) { |index| numbers_line(random, index) }.join("\n")}\n")
    before = everything
    refute_empty before
    assert_equal before.size, keep(days: 0, now_us: NOW_US + (400 * DAY_US))
    assert_equal 0, question.total
    Store::Archive.find_each { |archive| archive.update!(state: "coming") && Store::Returning.new(archive).bring_back }
    assert_equal before, everything
    assert_equal(before.map { |row| bits(row[6]) }, everything.map { |row| bits(row[6]) })
  end

  # Equal floats may have other bits: 0.0 and -0.0.
  def bits(fields) = fields.transform_values { |value| value.is_a?(Float) ? [value].pack("G") : value }

  def numbers_line(random, index)
    double = [random.rand(1 << 64)].pack("Q").unpack1("D")
    double = -0.0 unless double.finite?
    whole = random.rand(1 << random.rand(1..70)) * [1, -1].sample(random: random)
    text = Array.new(random.rand(12)) { random.rand(32..255).chr }.join.force_encoding("ISO-8859-1").encode("UTF-8")
    time = (Time.utc(2026, 11, 13) + (index * 700)).strftime("%Y-%m-%dT%H:%M:%S.%6NZ")
    return "#{time} level=info msg=pairs double=#{double} whole=#{whole} share=#{random.rand}" if (index % 3).zero?

    %({"time":"#{time}","msg":#{JSON.generate(text)},"double":#{double},"whole":#{whole},"share":#{random.rand}})
  end

  # gzip and jq know nothing of us.
  def test_an_archive_is_a_file_that_other_programs_read
    fill
    keep(days: 5)
    archive = Store::Archive.find_by(day: "2026-11-16")
    text, status = Open3.capture2("gzip", "-dc", archive.path)
    assert_predicate status, :success?
    lines = text.lines.map { |line| JSON.parse(line) }
    assert_equal [300, 300], [lines.size, archive.lines]
    assert_equal Array.new(300) { |index|
                   (Time.utc(2026, 11, 16) + (index * 288)).strftime("%Y-%m-%dT%H:%M:%S.000000Z")
                 }, lines.map { |line| line["time"] }.sort
    assert(lines.all? { |line| line["raw"] == "#{line['time'].sub('.000000', '')} quay craned: #{line['message']}" })
  end

  def test_age_is_counted_from_the_line_and_sources_may_have_their_own
    fill
    days = Store::Source.find_by("name LIKE '%days.log'")
    feed = Store::Feed.create!(name: "days", kind: "tcp", created_us: 1, keep_days: 2)
    days.update!(feed_id: feed.id)
    others = question.total - 3000
    assert_equal 2400, keep
    assert_equal [600, NOW_US - (2 * DAY_US)],
                 [
                   question(%(source = "#{days.name}")).total,
                   question(%(source = "#{days.name}")).page(limit: 1).events.first.time_us
                 ]
    assert_equal others, question(%(source != "#{days.name}")).total
    feed.update!(keep_days: 30)
    keep(days: 1)
    assert_equal 600, question(%(source = "#{days.name}")).total
  end

  def test_what_is_too_large_loses_its_oldest_lines
    import_text(
      Array
        .new(30_000) do |index|
          "#{(Time.utc(2026, 11, 20) + index).strftime('%Y-%m-%dT%H:%M:%SZ')} quay craned: crane #{index} lifted " \
            "#{format('%064x', index * (7919**9))}\n"
        end
        .join
    )
    limit = (Store::Database.bytes / 2_000_000.0).ceil
    lines = question.total
    gone = keep(megabytes: limit)
    assert_in_delta 0.55, gone.fdiv(lines), 0.15
    assert_equal Time.utc(2026, 11, 20).to_i + gone, question.page(limit: 1).events.first.time_us / 1_000_000
    size = File.size(Store::Database.path)
    assert_operator Store::Compaction.new.run, :>, 0
    assert_operator File.size(Store::Database.path), :<, size * 0.75
    assert_operator Store::Database.bytes, :<, limit * 1_000_000
    assert_sound
    assert_equal lines - gone, question("lifted").total
  end

  # The process may be killed after a batch is on disk, and before it has left the database.
  def test_a_batch_that_was_not_committed_is_not_in_the_archive_twice
    fill
    Store::Archive
      .of(Time.utc(2026, 11, 13).to_i * 1_000_000, 1)
      .then { |archive| archive.content.append(0, ["{\"half\":1}"]) }
    keep(days: 5)
    lines = Store::Archive.find_each.flat_map { |archive| archive.content.each_line(archive.bytes).to_a }
    assert_equal Store::Archive.sum(:lines), lines.size
    assert_empty(lines.grep(/half/))
  end

  # What is forgotten and given back must neither stop who writes meanwhile, nor lose a line of theirs.
  def test_others_write_while_old_lines_go
    old =
      Array
        .new(20_000) do |index|
          "#{(Time.utc(2026, 10, 1) + index).strftime('%Y-%m-%dT%H:%M:%SZ')} quay craned: old " \
            "#{format('%032x', index * 7919)}\n"
        end
        .join
    import_text(old, name: "old.log")
    paths =
      Array.new(8) do |part|
        write(
          "new-#{part}.log",
          Array
            .new(2000) { |index| "2026-11-23T10:00:#{format('%02d', index % 60)}Z quay craned: new #{part} #{index}\n" }
            .join
        )
      end
    ActiveRecord::Base.connection_handler.clear_all_connections!
    writing = fork do
      Store::Database.open(@data)
      paths.each { |path| import(path) }
      exit!(0)
    end
    Store::Database.open(@data)
    assert_equal 20_000, keep(days: 5)
    Store::Compaction.new.run
    assert_predicate Process.wait2(writing)[1], :success?
    assert_equal [16_000, 0], [question("new").total, question("old").total]
    assert_equal 20_000, Store::Archive.sum(:lines)
    assert_sound
  end

  def test_an_archive_that_is_broken_says_so_and_leaves_nothing_behind
    fill
    keep(days: 5)
    archive = Store::Archive.first
    before = question.total
    File.binwrite(archive.path, File.binread(archive.path).tap { |bytes| bytes[40..60] = "x" * 21 })
    archive.update!(state: "coming")
    Store::Returning.new(archive).bring_back
    assert_equal ["away", before], [archive.reload.state, question.total]
    assert_match(/cannot be read/, archive.problem)
    File.truncate(archive.path, 10)
    assert_match(/shorter than it was/, assert_raises(Error) { archive.content.append(archive.bytes, ["{}"]) }.message)
  end

  def test_nothing_is_written_where_no_archive_is_wanted
    fill
    Store::Forgetting.new(Store::Keeping.new(days: 5, archive: false)).run(NOW_US)
    assert_equal [0, false], [Store::Archive.count, Dir.exist?(File.join(@data, Store::Archive::FOLDER))]
  end

  def test_settings_are_kept
    assert_equal [nil, nil, true], Store::Keeping.current.to_a
    Store::Keeping.new(days: 30, megabytes: 2000, archive: false).save
    assert_equal [30, 2000, false], Store::Keeping.current.to_a
  end
end
