# frozen_string_literal: true

require_relative "../test_helper"
require "yaml"

# That real daemons were started anew, as recorded/record and recorded/record-others had them do with AGAIN=1: ended in
# order and started, killed and started (again.yml has how often each took up its work again). Each is told, once, and
# nothing else is.
class RestartsTest < Northdrift::StoreTest
  include Northdrift

  FOLDER = File.join(__dir__, "recorded/again")
  TRUTH = YAML.safe_load_file(File.join(FOLDER, "again.yml")).freeze

  TRUTH.each do |name, expected|
    define_method("test_#{name}") do
      Intake::Importer.new(zone: "Europe/Oslo", place: ->(_) { "hall" }).import(
        Intake::Parts.new([File.join(FOLDER, name)])
      )
      found = Store::Restarts.new.verdicts
      assert_equal expected, found.map(&:service).tally
      assert_equal(["hall"], found.map(&:machine).uniq)
    end
  end

  # The other recordings are of daemons that were started once.
  def test_none_is_told_where_there_was_none
    names = Dir.children(File.dirname(FOLDER)).grep(/\.(?:log|json|csv|export|short[\w-]*)\z/)
    assert_operator names.size, :>, 60
    Intake::Importer.new(zone: "Europe/Oslo", place: ->(name) { File.basename(name) }).import(
      Intake::Parts.new(names.map { |name| File.join(File.dirname(FOLDER), name) })
    )
    assert_operator question.total, :>, 1000
    assert_empty(Store::Restarts.new.verdicts.map { |one| [one.machine, one.service] })
  end
end
