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
end
