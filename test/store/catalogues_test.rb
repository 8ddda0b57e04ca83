# frozen_string_literal: true

require_relative "../test_helper"

# What all threads of a process share of the database: whoever reads it has a whole state of it, while another adds.
class CataloguesTest < Northdrift::StoreTest
  include Northdrift

  def line(index)
    "2026-11-22T06:12:08Z host-#{index} app#{index}[1]: berth #{%w[a b c d][index % 4]}#{index} is held\n"
  end

  # One that is added in the midst of a look through all does not end the look.
  def test_a_look_through_all_kinds_goes_on_while_one_is_added
    import_text(line(0) + line(1))
    kinds = Store::Kinds.current
    seen = kinds.each.map do |kind|
      import_text(line(kind.id + 100), name: "more-#{kind.id}.log") && kinds.refresh
      kind.machine
    end
    assert_equal %w[host-0 host-1], seen.sort
    assert_equal 4, kinds.size
  end

  def test_what_is_said_of_a_machine_is_said_of_its_kinds_at_once_and_by_all_who_ask
    import_text(line(0))
    before = Store::Kinds.current.first
    Store::Fleet.keep([Fleet::Roster::Machine.new(name: "host-0", site: "Brennsund", tags: [], needs: [])])
    after = Store::Kinds.current.first
    assert_equal ["Brennsund", nil], [after.constants["host.site"], before.constants["host.site"]]
  end

  # Each answer holds together: a name's kinds are there, a field's name is that of a kind, a template's pattern has a
  # text.
  def test_many_threads_read_while_another_adds
    import_text(line(0))
    stop = false
    readers = Array.new(4) { Thread.new { look && sleep(0.002) until stop } }
    readers.each { |reader| reader.report_on_exception = false }
    15.times { |index| import_text(line(index + 1), name: "#{index}.log") }
    stop = true
    readers.each(&:value)
    assert_equal 16, Store::Kinds.current.size
    assert_equal (0..15).map { |index| "host-#{index}" }.sort, Store::Kinds.current.filter_map(&:machine).sort
  ensure
    stop = true
    readers&.each { |reader| reader.join(5) }
  end

  def look
    kinds = Store::Kinds.current
    names = kinds.names
    fields = kinds.field_names
    known = kinds.to_a
    raise "a kind is missing" unless names.values.flatten.to_set <= kinds.to_set(&:id)
    raise "a field is missing" unless known.first.fields.all? { |name| fields.include?(name) }

    patterns = Store::KnownPatterns.current
    Store::Database.rows("SELECT id FROM templates").flatten.all? do |template|
      raise "template #{template} has no text" unless patterns.text(patterns.of(template))

      patterns.templates(patterns.of(template)).include?(template) || raise("template #{template} is lost")
    end
  ensure
    ActiveRecord::Base.connection_handler.clear_active_connections!
  end
end
