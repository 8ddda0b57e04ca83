# frozen_string_literal: true

require_relative "../test_helper"

# Work that several processes share comes to the same as work done here.
class CrewTest < Northdrift::StoreTest
  include Northdrift

  def setup
    super
    ActiveRecord::Base.connection_handler.clear_all_connections!
    @crew = Store::Crew.new(@data)
    Store::Database.open(@data)
    lines =
      Array.new(2000) do |index|
        "#{(NOW - 4000 + index).strftime('%b %e %T')} #{%w[alder birch][index % 2]} app[1]: retry #{index} took=" \
          "#{index}ms"
      end
    import_text("#{lines.join("\n")}\n")
  end

  def teardown
    Store::Crew.current = nil
    @crew.send(:instance_variable_get, :@hands).each { |hand| hand.input.close }
    super
  end

  def counts(find, windows)
    asked = question(find)
    totals = Hash.new(0)
    @crew.work(jobs(asked.spec, windows, by: :machine, start_us: asked.from_us, step_us: 60_000_000)) do |part|
      part.each { |key, n| totals[key] += n }
    end
    totals
  end

  def jobs(spec, windows, **options)
    windows.map { |window| Store::Crew::Job.new(spec, :step_counts, window, options) }
  end

  def windows(parts)
    from, to = Store::Span.all
    (0..parts).map { |index| from + ((to - from) * index / parts) }.each_cons(2).to_a
  end

  def test_pieces_add_up_whoever_counts_them
    ["took > 500ms", "retry 17", "*etr* host.name = birch", "message ~ /retry 1\\d\\d /"].each do |find|
      asked = question(find)
      alone = asked.step_counts(asked.from_us, asked.to_us, by: :machine, start_us: asked.from_us, step_us: 60_000_000)
      assert_equal alone, counts(find, windows(7)), find
      assert_equal found(find).size, alone.values.sum
    end
  end

  def test_who_stops_leaves_the_crew_ready
    asked = question("*etr*")
    assert_raises(ArgumentError) do
      @crew.work(jobs(asked.spec, windows(9), by: nil, start_us: 0, step_us: 1000)) { raise ArgumentError }
    end
    assert_equal 2000, counts("*etr*", windows(3)).values.sum
  end

  def test_a_question_is_answered_here_when_a_process_was_lost
    Store::Crew.current = @crew
    hands = @crew.send(:instance_variable_get, :@hands)
    asked = question("*etr*")
    pieces = jobs(asked.spec, windows(9), by: nil, start_us: asked.from_us, step_us: 60_000_000)
    told = []
    Store::Crew.each_result(pieces) do |result, job|
      hands.each { |hand| Process.kill(:KILL, hand.pid) && Process.wait(hand.pid) } if told.empty?
      told << [result.values.sum, job.window]
    end
    assert_equal [2000, pieces.map(&:window)], [told.sum(&:first), told.map(&:last).sort]
    assert_equal 2000, question("*etr*").histogram.total
    assert_nil Store::Crew.current
  end
end
