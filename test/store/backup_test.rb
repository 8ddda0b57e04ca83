# frozen_string_literal: true

require_relative "../test_helper"

# A copy of a data folder that is in use, and what is made of it elsewhere.
class BackupTest < Northdrift::StoreTest
  include Northdrift

  LINES = Array.new(300) do |at|
    "<#{8 + (at % 8)}>1 2026-11-#{20 + (at % 3)}T06:00:#{format('%02d', at % 60)}Z alder app - - - number #{at}\n"
  end.join
  BY_DAY = "SELECT id / (86400000 << 11) AS day, id & 15, count(*) FROM events GROUP BY 1, 2 ORDER BY 1, 2"

  def copy = File.join(@dir, "copy.backup")
  def elsewhere = File.join(@dir, "elsewhere", "data")
  def by_day = Store::Database.rows(BY_DAY)

  def test_all_of_it_is_there_elsewhere
    import_text(LINES)
    Store::Person.add("Olav", role: "administrator", password: "zither-lantern-plum")
    Store::Session.create!(id: "x", person_id: 1, created_us: 1, seen_us: 1)
    File.write(File.join(@data, "settings.yml"), "forward: [10.40.0.9]\n")
    FileUtils.mkdir_p(File.join(@data, Store::Archive::FOLDER))
    File.binwrite(File.join(@data, Store::Archive::FOLDER, "2026-11-01.ndjson.gz"), "\x1F\x8B#{'x' * 9_000_000}")
    File.write(File.join(@data, "logins"), "not this")
    before = by_day
    secret = Store::Secret.seal("open sesame")
    done = []
    report = Store::Backup.write(copy) { |share| done << share }
    assert_equal [300, 3], report.to_a
    assert_equal 0o600, File.stat(copy).mode & 0o777
    assert(done.all? { |share| share.between?(0, 1) })
    assert_equal ["copy.backup"], Dir.children(@dir).grep(/backup/), "nothing beside it"
    assert_equal report, Store::Backup.restore(copy, elsewhere)
    assert_equal elsewhere, File.dirname(Store::Database.path)
    assert_equal before, by_day
    assert_sound
    assert_equal "open sesame", Store::Secret.open(secret)
    assert Store::Person.authenticate("olav", "zither-lantern-plum")
    assert_equal 0, Store::Session.count
    assert_equal(["10.40.0.9"], with_no_environment { Store::MachineSettings.current.forward })
    archive = File.join(Store::Archive::FOLDER, "2026-11-01.ndjson.gz")
    assert FileUtils.identical?(File.join(@data, archive), File.join(elsewhere, archive))
    refute_path_exists File.join(elsewhere, "logins")
    assert_equal([0o700, 0o600], [elsewhere, File.join(elsewhere, "secrets.key")].map do |path|
      File.stat(path).mode & 0o777
    end)
  end

  def test_it_goes_on_elsewhere
    import_text(LINES)
    Store::Backup.write(copy)
    Store::Backup.restore(copy, elsewhere)
    import_text("Nov 23 06:00:00 alder app: it goes on\n", name: "on.log")
    assert_equal 301, Store::Events.total
  end

  def with_no_environment
    kept = ENV.delete("NORTHDRIFT_FORWARD")
    yield
  ensure
    ENV["NORTHDRIFT_FORWARD"] = kept
  end

  # It is of one moment, whatever is written meanwhile.
  def test_under_full_intake
    import_text(LINES)
    ActiveRecord::Base.connection_handler.clear_all_connections!
    writer = fork do
      Store::Database.open(@data)
      200.times { |round| import_text(LINES.gsub("number", "round #{round} number"), name: "#{round}.log") }
    ensure
      exit!(0)
    end
    Store::Database.open(@data)
    eventually("the writer") { Store::Events.total > 900 }
    counts = Array.new(3) do |at|
      path = File.join(@dir, "#{at}.backup")
      events = Store::Backup.write(path).events
      assert_nil Process.wait(writer, Process::WNOHANG), "it writes all the while"
      [path, events]
    end
    end_of(writer)
    counts.each_with_index do |(path, events), at|
      Store::Backup.restore(path, File.join(@dir, "elsewhere #{at}"))
      assert_equal events, by_day.sum(&:last)
      assert_equal 0, events % 300, "files were written whole"
      assert_sound
    end
    assert_equal counts.map(&:last).sort, counts.map(&:last)
  ensure
    end_of(writer)
  end

  def end_of(pid)
    Process.kill(:KILL, pid)
    Process.wait(pid)
  rescue Errno::ESRCH, Errno::ECHILD
    nil
  end

  def refused(reason, &)
    error = assert_raises(Northdrift::Error, &)
    assert_includes error.message, reason
  end

  def test_what_will_not_do
    import_text(LINES)
    Store::Backup.write(copy)
    refused("is there already") { Store::Backup.write(copy) }
    refused("there is data in") { Store::Backup.restore(copy, @data) }
    refused("there is no file") { Store::Backup.restore("#{copy}x", elsewhere) }
    refused("not written") { Store::Backup.write(File.join(@dir, "none", "copy")) }
    refused("is no backup") { Store::Backup.restore(Store::Database.path, elsewhere) }
    assert_empty Dir.glob("#{@dir}/**/*.part*")
    refused("cannot be restored") { Store::Backup.restore(write("text.backup", "no database" * 1000), elsewhere) }
    cut = write("cut.backup", File.binread(copy)[0, File.size(copy) / 2])
    refused("cut.backup") { Store::Backup.restore(cut, elsewhere) }
    refute Store::Database.there?(elsewhere)
    assert_empty Dir.glob("#{@dir}/**/*.part*")
  end

  # What is wrong is found before it is taken for a copy, and leaves the way free for the next one.
  def test_counts_that_are_off
    import_text(LINES)
    Store::Database.rows("UPDATE minute_counts SET n = n + 1")
    2.times { refused("are counted") { Store::Backup.write(copy) } }
    Store::Database.rows("UPDATE minute_counts SET n = n - 1")
    assert_equal 300, Store::Backup.write(copy).events
  end

  # Somebody else's is not taken away.
  def test_another_one_is_being_written
    import_text(LINES)
    File.write("#{copy}.part", "theirs")
    refused("is there") { Store::Backup.write(copy) }
    assert_equal "theirs", File.read("#{copy}.part")
  end

  # A file that somebody else made may name any.
  def test_files_go_into_the_folder_and_nowhere_else
    import_text(LINES)
    Store::Backup.write(copy)
    ["../stray", "/tmp/stray", "archive/../../stray", "northdrift.db/x", ".profile", "archive/.x", ""].each do |name|
      SQLite3::Database.new(copy) do |one|
        one.execute("DELETE FROM backup_files")
        one.execute("INSERT INTO backup_files VALUES (?, 0, 'x')", [name])
      end
      refused("odd name") { Store::Backup.restore(copy, elsewhere) }
    end
    refute_path_exists File.join(@dir, "stray")
  end
end
