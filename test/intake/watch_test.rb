# frozen_string_literal: true

require_relative "../test_helper"

# What comes in is watched by the alert rules that are on.
class WatchLinesTest < Northdrift::StoreTest
  include Northdrift
  include Collecting

  REFUSED = {
    "name" => "Many refused", "severity" => "warning", "quiet" => "2min",
    "when" => { "count" => { "find" => "refused", "at_least" => 3, "within" => "60s", "by" => ["host.name"] } }
  }.freeze

  def teardown
    stop_collecting
    super
  end

  def on(values = REFUSED) = Store::AlertRule.create!(given: values, enabled: true, created_us: 1, changed_us: 1)

  def now = Store::Clock.now_us

  def line(seconds_ago, text, machine: "alder", service: "app")
    @now ||= now
    time = Time.at(0, @now - (seconds_ago * 1_000_000), :microsecond, in: "UTC").strftime("%Y-%m-%dT%H:%M:%S.%6NZ")
    "<13>1 #{time} #{machine} #{service} 7 - - #{text}\n"
  end

  # As what comes in is written, at once.
  def come(*lines)
    @come = (@come || 0) + 1
    before = Store::Database.rows("SELECT id FROM events").flatten
    import_text(lines.join, name: "#{@come}.log")
    Store::WatchQueue.add(Store::Database.rows("SELECT id FROM events").flatten - before)
  end

  def watch = @watch ||= Intake::Watcher.new

  def look
    nil while watch.step
  end

  def alerts = Store::Alert.order(:raised_us).map { |one| [one.machine, one.state, one.steps.map(&:what)] }

  def test_three_within_a_minute_are_one_alert_for_each_machine
    on
    come(line(50, "refused a"), line(40, "refused b"), line(30, "refused c", machine: "birch"))
    look
    assert_empty alerts
    come(line(20, "refused d"), line(10, "refused e"))
    look
    assert_equal [["alder", "open", ["raised"]]], alerts
    alert = Store::Alert.sole
    assert_equal ["Many refused", 4, ["alder"]], [alert.name, alert.severity, alert.keys]
    times = [alert.from_us, alert.raised_us, alert.last_us].map { |us| us / 1_000_000 }
    assert_equal([30, 10], times.each_cons(2).map { |one, following| following - one })
    assert_equal 0, Store::Database.value("SELECT count(*) FROM watch_queue")
  end

  # What it knew is had again from the lines, without those that wait in the queue.
  def test_another_process_goes_on_where_one_was_killed
    on
    come(line(50, "refused a"), line(40, "refused b"))
    look
    come(line(5, "refused c"))
    @watch = nil
    look
    assert_equal 1, Store::Alert.count
    @watch = nil
    come(line(2, "fine"))
    look
    assert_equal 1, Store::Alert.count, "none is told twice"
  end

  # A transaction that fails leaves the lines in the queue, and what was known of them is forgotten.
  def test_what_could_not_be_written_is_looked_at_again
    on
    come(line(50, "refused a"), line(40, "refused b"), line(5, "refused c"))
    Store::Alert.stub(:note, ->(*) { raise SQLite3::FullException, "full" }) do
      assert_raises(SQLite3::FullException) { watch.step }
    end
    @watch = nil
    look
    assert_equal 1, Store::Alert.count
  end

  def test_lines_that_come_an_hour_late_are_looked_up
    on
    come(line(3610, "refused a"), line(3600, "refused b"))
    look
    come(line(3605, "refused c"))
    look
    assert_equal [["alder", "open", ["raised"]]], alerts
    come(line(3550, "refused d"))
    look
    assert_equal 1, Store::Alert.count
    assert_equal 60, (Store::Alert.sole.last_us - Store::Alert.sole.from_us) / 1_000_000
  end

  def test_a_closed_one_that_comes_again_is_open_again_and_a_later_one_is_another
    on
    come(line(100, "refused a"), line(95, "refused b"), line(90, "refused c"))
    look
    Store::Alert.sole.act("closed", who: "Ann", now_us: now, state: "closed", closed_us: now, remedy: "restarted it")
    come(line(50, "refused d"), line(49, "refused e"), line(48, "refused f"))
    look
    alert = Store::Alert.sole
    assert_equal ["open", true, "restarted it"], [alert.state, alert.reopened, alert.remedy]
    assert_equal ["raised", "closed", "came again"], alert.steps.map(&:what)
    refute alert.undo(now), "what came since is nobody's to take back"
    later = @now + (300 * 1_000_000)
    @now = later
    Store::Clock.stub(:now_us, later) do
      come(line(3, "refused g"), line(2, "refused h"), line(1, "refused i"))
      look
    end
    assert_equal 2, Store::Alert.count
  end

  def test_what_a_person_did_is_taken_back
    on
    come(line(9, "refused a"), line(8, "refused b"), line(7, "refused c"))
    look
    alert = Store::Alert.sole
    alert.act("taken", who: "Ann", now_us: now, state: "taken", taken_by: "Ann")
    alert.act("closed", who: "Ann", now_us: now, state: "closed", closed_us: now, remedy: "x")
    assert alert.undo(now)
    assert_equal ["taken", "Ann", nil, ""], [alert.state, alert.taken_by, alert.closed_us, alert.remedy]
    assert alert.undo(now)
    assert_equal "open", alert.state
    refute alert.undo(now)
  end

  # What the logbook reads out of lines.
  def test_entries_of_the_logbook_are_watched_for
    on("name" => "Killed", "when" => { "entry" => { "kinds" => ["memory-kill"], "by" => ["host.name"] } })
    said = "Out of memory: Killed process 812 (bookingd) total-vm:1024kB, anon-rss:512kB"
    come(line(9, "nothing"), line(8, said, service: "kernel"))
    look
    assert_equal [["alder", "open", ["raised"]]], alerts
    total, lines = Store::Alert.sole.lines(5)
    assert_equal [1, [said]], [total, lines.map(&:message)]
    assert_equal "logbook: memory kill, for the same host.name", Store::Alert.sole.rule.in_words
  end

  # Told once those that may be late have come.
  def test_a_machine_that_falls_silent
    beats = { "find" => "heartbeat", "than" => 1, "within" => "60s", "by" => ["host.name"] }
    on("name" => "No heartbeat", "when" => { "fewer" => beats })
    come(line(100, "heartbeat"), line(30, "heartbeat", machine: "birch"))
    look
    assert_empty alerts
    start = @now
    [[30, ["alder"]], [80, %w[alder]], [100, %w[alder birch]]].each do |seconds, silent|
      Store::Clock.stub(:now_us, start + (seconds * 1_000_000)) { look }
      assert_equal silent, Store::Alert.order(:id).map(&:machine), "after #{seconds} s"
    end
    assert_equal [start - 40_000_000, "heartbeat, none within 1 min, for the same host.name"],
                 [Store::Alert.first.raised_us, Store::Alert.first.rule.in_words]
  end

  def level_at(seconds, *lines)
    Store::Clock.stub(:now_us, @start + (seconds * 1_000_000)) do
      come(*lines)
      look
    end
  end

  # By the minute, told when those that may be late have come; worse once it is beyond the second level.
  def test_a_measure_beyond_two_levels
    on("name" => "Slow", "severity" => "warning", "quiet" => "10min",
       "when" => { "measure" => { "find" => "took", "of" => "max(duration_ms)", "above" => "2s", "critical" => 5000,
                                  "within" => "60s", "by" => ["host.name"] } })
    @now = @start = now / 60_000_000 * 60_000_000
    level_at(0, line(50, "took duration_ms=1900"), line(40, "took duration_ms=2500", machine: "birch"))
    assert_empty alerts
    level_at(61)
    assert_equal([["birch", 4, ["raised"]]], Store::Alert.all.map do |one|
      [one.machine, one.severity, one.steps.map(&:what)]
    end)
    level_at(130, line(-70, "took duration_ms=7000", machine: "birch"))
    level_at(190)
    assert_equal [2, %w[raised worse]], [Store::Alert.sole.severity, Store::Alert.sole.steps.map(&:what)]
    assert_equal "max(duration_ms) above 2 s, critical 5 s within 1 min of took, for the same host.name",
                 Store::Alert.sole.rule.in_words
  end

  def test_a_job_that_begins_and_does_not_end
    parts = { "first" => "job begins", "then" => "job done", "join" => "job.id", "within" => "60s",
              "by" => ["host.name"] }
    on("name" => "Stuck", "when" => { "unfinished" => parts })
    come(line(200, "job begins job.id=7"), line(190, "job begins job.id=8"), line(180, "job done job.id=8"))
    look
    assert_equal [["alder", "open", ["raised"]]], alerts
    assert_equal [@now - 200_000_000, @now - 140_000_000],
                 Store::Alert.sole.attributes.values_at("from_us", "raised_us")
  end

  # No line tells it: it is noticed by the rhythm of the machine.
  def test_that_a_machine_fell_silent_is_noticed
    on("name" => "Silent", "when" => { "entry" => { "kinds" => ["silence"], "by" => ["host.name"] } })
    beats = (20..400).map { |n| line(n * 300, "all is well") }.reverse
    others = (0..400).map { |n| line(n * 300, "all is well", machine: "birch") }.reverse
    import_text((beats + others).join)
    Store::Noticing.new(now).run
    look
    assert_equal [["alder", "open", ["raised"]]], alerts
    assert_match(/is silent, for 1 h/, Store::Alert.sole.told.sole.says)
    Store::Alert.sole.act("close", who: "Ann", now_us: now, state: "closed", closed_us: now, remedy: "known")
    Store::Clock.stub(:now_us, now + 60_000_000) do
      Store::Noticing.new(now).run
      @watch = nil
      look
    end
    assert_equal [["alder", "closed", %w[raised close]]], alerts, "it is silent still, and that is known"
  end

  def test_nothing_is_kept_for_later_where_no_rule_is_on
    come(line(5, "refused a"))
    assert_equal 0, Store::Database.value("SELECT count(*) FROM watch_queue")
  end

  def test_a_rule_that_is_changed_holds_from_the_next_line_on
    one = on
    come(line(50, "refused a"), line(40, "refused b"))
    look
    one.given = REFUSED.merge("when" => { "count" => REFUSED["when"]["count"].merge("at_least" => 2) })
    one.update!(changed_us: 2)
    come(line(30, "refused c"))
    look
    assert_equal 1, Store::Alert.count
    one.update!(enabled: false, changed_us: 3)
    come(line(1, "refused d", machine: "birch"), line(1, "refused e", machine: "birch"))
    look
    assert_equal 1, Store::Alert.count
  end

  # From a socket to an alert, whatever process is killed.
  def test_it_is_raised_live
    port = free_port
    feed("tcp", port: port)
    on
    ActiveRecord::Base.connection_handler.clear_all_connections!
    tasks = Server::Supervisor.intake(@data).slice("northdrift: collecting", "northdrift: watching")
    @collector = fork { Server::Supervisor.new(tasks).run && exit!(0) }
    Store::Database.open(@data)
    listening(port)
    3.times do |number|
      @now = now
      TCPSocket.open("127.0.0.1", port) { |socket| socket.write(line(0, "refused #{number}")) }
      eventually { Store::Events.total == number + 1 }
      eventually { processes["northdrift: watching"]&.any? }
      processes["northdrift: watching"].each { |pid| Process.kill(:KILL, pid) }
    end
    eventually { Store::Alert.one? }
    assert_equal [["alder", "open", ["raised"]]], alerts
  end
end
