# frozen_string_literal: true

require_relative "../test_helper"

# Writers wait for each other, and nobody else does.
class PatienceTest < Northdrift::StoreTest
  include Northdrift

  # A process that writes, and says so.
  def writing(seconds)
    ActiveRecord::Base.connection_handler.clear_all_connections!
    told, tell = IO.pipe
    pid = fork do
      Store::Database.open(@data)
      ActiveRecord::Base.transaction do
        Store::Setting.set("other", "written")
        tell.puts "begun"
        sleep seconds
      end
      exit!(0)
    end
    Store::Database.open(@data)
    told.gets
    yield
  ensure
    Process.wait(pid)
  end

  def test_who_waits_to_write_keeps_no_other_thread_of_its_process
    ticks = 0
    writing(1.5) do
      waiting =
        Thread.new { ActiveRecord::Base.connection_pool.with_connection { Store::Setting.set("own", "written") } }
      while waiting.alive?
        ticks += 1
        sleep 0.01
      end
      waiting.join
    end
    assert_operator ticks, :>, 10
    assert_equal(%w[written written], %w[own other].map { |name| Store::Setting.get(name) })
  end

  def test_who_reads_waits_for_no_writer
    writing(1.5) { assert_nil Store::Setting.get("other") }
    assert_equal "written", Store::Setting.get("other")
  end

  # As the last one does that closes it, and the first one that opens what was left behind.
  def test_who_opens_it_waits_for_one_that_has_it_alone
    ActiveRecord::Base.connection_handler.clear_all_connections!
    told, tell = IO.pipe
    pid = fork do
      alone = SQLite3::Database.new(File.join(@data, Store::Database::FILE))
      alone.locking_mode = "exclusive"
      alone.execute("UPDATE settings SET value = value")
      tell.puts "alone"
      sleep 0.7
      exit!(0)
    end
    told.gets
    Store::Database.open(@data)
    assert_nil Store::Setting.get("other")
  ensure
    Process.wait(pid)
  end

  # Many processes, each with many small transactions: none gives up, and nothing is lost.
  def test_many_writers_have_their_turns
    ActiveRecord::Base.connection_handler.clear_all_connections!
    writers = Array.new(4) do |writer|
      fork do
        Store::Database.open(@data)
        25.times { |number| Store::Database.step { Store::Setting.set("#{writer} #{number}", "x" * 1000) } }
        exit!(0)
      end
    end
    assert_predicate(writers.map { |pid| Process.wait2(pid)[1].success? }, :all?)
    Store::Database.open(@data)
    assert_equal 100, Store::Setting.where("name LIKE '% %'").count
  end
end
