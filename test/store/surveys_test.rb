# frozen_string_literal: true

require_relative "../test_helper"

# Fields, words and measures against a count of the same events one by one.
class SurveysTest < Northdrift::StoreTest
  include Northdrift

  START = NOW - 7200
  QUESTIONS = [
    "", "host.name = alder", "retry", "severity >= warning", "took > 50ms", "not birch", "nothing-like-it"
  ].freeze

  def setup
    super
    random = Random.new(17)
    lines = Array.new(1500) do |index|
      at = START + (index * 4.7)
      case random.rand(3)
      when 0
        host = %w[alder birch][random.rand(2)]
        "<#{8 + random.rand(8)}>1 #{at.strftime('%Y-%m-%dT%H:%M:%S.%6NZ')} #{host} gatectl 7 - " \
          "[x@32473 berth=\"#{random.rand(4)}\"] gate held, retry #{random.rand(9)}"
      when 1
        JSON.generate(
          "time" => at.strftime("%Y-%m-%dT%H:%M:%S.%6NZ"), "level" => %w[info warn error][random.rand(3)],
          "host" => "cedar", "msg" => "naïve order #{index} served", "duration_ms" => random.rand(400),
          "ok" => random.rand(2).zero?
        )
      else
        "#{at.strftime('%b %e %H:%M:%S')} birch app[#{random.rand(100)}]: voucher printed took=#{random.rand(100)}ms " \
        "size=#{random.rand(900)}kB"
      end
    end
    import_text("#{lines.join("\n")}\n")
  end

  def events(find) = question(find).to_enum(:each).to_a

  # @return [Hash{String=>Object}] all fields of an event
  def fields(event)
    event
      .fields
      .merge(event.kind.constants)
      .merge("severity" => Severity.name(event.severity), "source" => Store::Source.find(event.source_id).name)
  end

  def test_fields_are_counted_as_one_by_one
    QUESTIONS.each do |find|
      expected =
        events(find).flat_map { |event| fields(event).map { |name, value| [name, Text.display(value.to_s)] } }.tally
      table = Store::FieldTable.new(question(find)).count
      counts =
        table
          .rows
          .flat_map { |field| field.values.map { |value| [[field.name, Text.display(value.value)], value.events] } }
          .to_h
      assert_equal(expected.slice(*counts.keys), counts, find)
      assert_equal expected.keys.map(&:first).tally, table.rows.to_h { |field| [field.name, field.distinct] }, find
      assert_equal events(find).size, table.total
    end
  end

  # Whatever a question does not ask for is its rest, severities that are switched off included.
  def test_the_rest_of_a_window
    all = events("").map(&:id)
    QUESTIONS.each do |find|
      asked = question(find, hidden: [6])
      ids = asked.to_enum(:each).map(&:id)
      assert_equal all - ids, asked.rest.to_enum(:each).map(&:id), find
      assert_equal ids, asked.rest.rest.to_enum(:each).map(&:id), find
    end
  end

  def test_a_field_that_tells_the_lines_from_the_rest_stands_first
    table = Store::FieldTable.new(question("host.name = alder and gate")).count
    assert_equal "host.name", table.rows.first.name
    assert_operator table.other_total, :<=, question("not (host.name = alder and gate)").total
    assert_operator table.other_total, :>, 0
  end

  def test_numbers_of_a_field
    took = Store::FieldTable.new(question("voucher")).count.rows.find { |field| field.name == "took" }
    values = events("voucher").map { |event| event.fields["took"].to_i }.sort
    assert_equal ["duration", "s", values.first / 1000.0, values.last / 1000.0],
                 [took.type, *took.numbers.values_at("unit", "min", "max")]
    assert_in_delta (values[(values.size - 1) / 2] + values[values.size / 2]) / 2000.0, took.numbers["median"], 1e-9
    assert_equal values.size, took.numbers["counts"].sum
  end

  def test_words_are_counted_as_one_by_one
    QUESTIONS.each do |find|
      expected = events(find).flat_map { |event| Find::Words.tokens(event.subject.text).map(&:downcase).uniq }.tally
      table = Store::WordTable.new(question(find)).count
      table.rows.each { |row| assert_equal expected[row.word], row.events, "#{row.word} in #{find}" }
      assert_includes table.rows.map(&:word), "naïve" if find.empty?
    end
  end

  def measure(text, find = "")
    Store::Measurement.new(
      question(find), clause: Measure::Clause.parse(text, known: -> { Store::Kinds.current.field_names })
    ).count
  end

  def test_measures_are_those_of_the_events
    QUESTIONS.each do |find|
      all = events(find)
      by = measure("count by host.name, severity top 100", find)
      assert_equal(
        all.map { |event| [event.machine, Severity.name(event.severity)] }.tally,
        by.rows.to_h { |group| [group.by, group.value] }
      )
      took = all.filter_map { |event| event.fields["duration_ms"]&.fdiv(1000) }
      average = measure("avg(duration_ms)", find)
      took.empty? ? assert_nil(average.whole.value) : assert_in_delta(took.sum / took.size, average.whole.value, 1e-9)
      assert_equal [all.size, took.size], [average.total, average.measured]
      steps = measure("count per 10 min", find)
      assert_equal(
        all.map { |event| (event.time_us - steps.start_us) / 600_000_000 }.tally,
        steps.rows.map(&:steps).reduce({}) { |sum, one| sum.merge(one) { |_, a, b| a + b } }
      )
    end
  end

  def test_the_rest_is_other
    by = measure("count by berth top 2")
    assert_equal [2, 5], [by.rows.size, by.found]
    assert_equal by.whole.value, by.rows.sum(&:value) + by.other.value
    assert_equal "s", measure("max(took)").unit
    assert_equal "B", measure("sum(size)").unit
    assert_nil measure("distinct(size)").unit
  end

  # What is shown before the end is of the lines looked at so far.
  def test_answers_so_far_grow_to_the_whole
    table = Store::WordTable.new(question(from_us: micros(START)))
    seen = []
    jobs = table.send(:jobs, table.question)
    table.count { seen << [table.done, table.total] }
    assert_equal jobs.size, seen.size
    assert_equal seen.sort, seen
    assert_equal [1.0, question(from_us: micros(START)).total], seen.last
  end

  def test_a_comparison_with_another_machine_takes_the_place_of_the_own
    own = question("gate held host.name = alder")
    other = own.compared_with("host.name = birch")
    assert_equal question("gate held host.name = birch").total, other.total
    table = Store::FieldTable.new(own, against: other).count
    machine = table.rows.find { |field| field.name == "host.name" }
    assert_equal({ "alder" => "new", "birch" => "gone" }, machine.values.to_h { |value| [value.value, value.change] })
    assert_operator(table.rows.index(machine), :<, table.rows.index { |field| field.name == "berth" })
    assert(table.rows.find { |field| field.name == "berth" }.values.all? { |value| value.change == "same" })
  end

  def test_whoever_wants_no_more_stops_it
    enough = -> { raise StopIteration }
    assert_raises(StopIteration) { Store::FieldTable.new(question).count(&enough) }
  end
end
