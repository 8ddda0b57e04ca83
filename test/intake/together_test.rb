# frozen_string_literal: true

require_relative "../test_helper"

# Everything at once, in processes of their own as in a long night: files are imported, lines come in, old ones are
# forgotten, a source is taken out, a parser is applied to the past, and people ask. Nothing is lost or doubled, and all
# counts hold.
class TogetherTest < Northdrift::StoreTest
  include Northdrift
  include Northdrift::Collecting

  # Many lines of one second, so that their places are contended for.
  def lines(count, name, at: NOW - 3600)
    Array
      .new(count) do |index|
        "#{(at + (index / 400)).strftime('%FT%TZ')} #{%w[alder birch cedar][index % 3]} craned: #{name} berth " \
          "#{%w[a b][index % 2]} took #{index} ms\n"
      end
      .join
  end

  # @return [Integer] a process that has the database open, ends well, or says what stopped it
  def apart(name)
    fork do
      Store::Database.open(@data)
      yield
      exit!(0)
    rescue StandardError => error
      warn "#{name}: #{error.class}: #{error.message}"
      exit!(1)
    end
  end

  def berths
    Store::ParserRule.create!(
      name: "berths", pattern: 'berth (?P<berth>\w+) took (?P<took_ms>\d+) ms',
      types: Oj.dump({ "took_ms" => "whole" }, mode: :strict), created_us: 1, changed_us: 1, enabled: false
    )
  end

  def send_live(port, batch)
    TCPSocket.open("127.0.0.1", port) { |socket| socket.write(lines(100, "live #{batch}")) }
    sleep(0.05)
  end

  def numbers(words) = question("\"#{words}\"").to_enum(:each).map { |event| event.message[/\d+(?= ms)/].to_i }

  def test_nobody_stands_in_anothers_way
    import_text(lines(4000, "leaving"), name: "leaving.log")
    import_text(lines(6000, "old", at: NOW - (9 * 86_400)), name: "old.log")
    leaving = Store::Source.find_by!("name LIKE ?", "%leaving.log").id
    rule = berths
    port = free_port
    feed("tcp", port: port)
    collect
    listening(port)
    files = Array.new(6) { |number| write("new-#{number}.log", lines(2000, "new #{number}")) }
    ActiveRecord::Base.connection_handler.clear_all_connections!

    jobs = {
      "importing" => -> { files.first(3).each { |path| import(path) } },
      "importing more" => -> { files.last(3).each { |path| import(path) } },
      "forgetting" => -> { Store::Forgetting.new(Store::Keeping.new(days: 5)).run(micros(NOW)) },
      "taking out" => -> { Store::Removal.remove([leaving]) },
      "reading again" => -> { Store::Rereading.new(Store::Reread.of(rule, 1)).run },
      "giving back" => -> { 5.times { Store::Compaction.new.run } },
      "sending" => -> { 30.times { |batch| send_live(port, batch) } },
      "asking" => lambda do
        60.times do
          question("berth = a or took", checked: false).histogram(by: :machine) && question("new").page(last: true)
        end
      end, "keeping a search" => -> { 40.times { |number| Store::Setting.set("search #{number}", "x") || sleep(0.02) } }
    }
    ended =
      jobs.map { |name, job| [name, apart(name, &job)] }.to_h { |name, pid| [name, Process.wait2(pid)[1].success?] }
    assert_empty(ended.reject { |_, well| well })

    Store::Database.open(@data)
    eventually { question("live").total == 3000 }
    stop_collecting
    assert_equal(
      { "leaving" => 0, "old" => 0, "new" => 12_000, "live" => 3000 },
      %w[leaving old new live].to_h { |word| [word, question(word).total] }
    )
    assert_equal 15_000, question.total
    6.times { |number| assert_equal (0...2000).to_a, numbers("new #{number}").sort, "of file #{number}" }
    assert_sound
    # What the parser had not reached when it came in is read when it is asked again.
    Store::Rereading.new(Store::Reread.of(rule, 2)).run
    assert_equal 7500, question("berth = a").total
    assert_sound
  ensure
    stop_collecting
  end
end
