# frozen_string_literal: true

require_relative "../test_helper"
require "open3"

# A backup takes the place of a data folder that has data, in use or not.
class ReplacementTest < Northdrift::StoreTest
  include Northdrift
  include Serving

  LINES = Array.new(3) { |at| "Nov 22 06:00:0#{at} alder app: number #{at}\n" }.join
  LATER = "Nov 22 07:00:00 alder app: later\n"

  def setup
    super
    import_text(LINES)
    Store::Backup.write(copy)
    import_text(LATER, name: "later.log")
  end

  def teardown
    stop_serving
    super
  end

  def copy = File.join(@dir, "copy.backup")

  def restore(*options)
    ActiveRecord::Base.connection_handler.clear_all_connections!
    Open3.capture2e(File.join(ROOT, "bin/northdrift"), "restore", copy, "--data", @data, *options)
  end

  def lines_of(dir)
    Store::Database.open(dir)
    Store::Events.total
  ensure
    ActiveRecord::Base.connection_handler.clear_all_connections!
  end

  # @return [String] the folder of what was there before
  def before = Dir.glob(File.join(@data, "#{Store::Replacement::BEFORE}*")).sole

  def test_nothing_is_replaced_unasked
    said, status = restore
    assert_equal [2, true], [status.exitstatus, said.include?("--replace")], said
    assert_equal 4, lines_of(@data)
  end

  def test_it_takes_the_place_of_one_that_is_not_in_use
    said, status = restore("--replace")
    assert_predicate status, :success?, said
    assert_equal [3, 4], [lines_of(@data), lines_of(before)]
    assert_includes said, before
    Store::Database.open(@data)
    assert_equal "northdrift restore", Store::AuditTrail.latest(1).first.action
    assert_sound
  end

  def test_who_serves_makes_way_and_goes_on_with_what_was_restored
    serve
    assert_equal 4, served
    said, status = restore("--replace")
    assert_predicate status, :success?, said
    eventually { served == 3 }
    assert_equal 4, lines_of(before)
    eventually { Intake::Live::Collector.running?(@data) }
    Store::Database.open(@data)
  end

  def served
    Oj.load(Net::HTTP.get(URI("http://127.0.0.1:#{@port}/api/status")), mode: :strict)["lines"]
  rescue SystemCallError, EOFError
    nil
  end

  def test_while_something_else_works_on_it_nothing_is_changed
    cli = Server::Cli.new([], { data: @data, replace: true })
    Store::Replacement.hold(@data) do
      error = assert_raises(Error) { cli.stub(:patience, 0.5) { cli.restore(copy) } }
      assert_match(/nothing was changed/, error.message)
      assert_nil Store::Replacement.ready(@data)
    end
    assert_equal 4, lines_of(@data)
    Store::Database.open(@data)
  end

  # Killed after each of its steps, it is brought to its end by the next who serves the folder.
  def test_what_was_stopped_midway_goes_on
    steps = 0
    loop do
      dir = File.join(@dir, "again#{steps}")
      FileUtils.cp_r(@data, dir)
      Store::Replacement.prepare(copy, dir)
      left = steps
      rename = File.method(:rename)
      stop = ->(*paths) { (left -= 1).negative? ? raise(Interrupt) : rename.call(*paths) }
      done = begin
        File.stub(:rename, stop) { Store::Replacement.carry_out(dir) }
      rescue Interrupt
        nil
      end
      Store::Replacement.carry_out(dir)
      assert_nil Store::Replacement.ready(dir)
      old = Dir.glob(File.join(dir, "#{Store::Replacement::BEFORE}*")).sole
      assert_equal [3, 4], [lines_of(dir), lines_of(old)], "stopped after #{steps} steps"
      break if done

      steps += 1
    end
    assert_operator steps, :>=, 3
    Store::Database.open(@data)
  end

  def test_what_is_no_backup_changes_nothing
    File.binwrite(copy, "x" * 5000)
    said, status = restore("--replace")
    assert_equal [2, true], [status.exitstatus, said.include?("cannot be restored")], said
    assert_equal 4, lines_of(@data)
    assert_empty Dir.children(@data).grep(/restor|before/)
    Store::Database.open(@data)
  end
end
