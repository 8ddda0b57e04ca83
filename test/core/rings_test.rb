# frozen_string_literal: true

require_relative "../test_helper"
require "ripper"
require "tsort"

# Each ring may know those before it and none after; SQL is in the database's ring alone. Held by what the files say:
# the constants that they use, and their strings.
class RingsTest < Minitest::Test
  include Northdrift

  DATABASE = %w[ActiveRecord SQLite3 Arel].freeze
  WEB = %w[Sinatra Rack Puma].freeze
  UNKNOWN = {
    "core" => %w[Store Intake Server Demo Standins] + DATABASE + WEB,
    "store" => %w[Intake Server Demo Standins] + WEB,
    "intake" => %w[Server Demo Standins Sinatra Arel],
    "server" => %w[Demo Arel],
    "standins" => %w[Server Arel]
  }.freeze
  SQL = /\b(SELECT\s.+\sFROM|INSERT (OR \w+ )?INTO|UPDATE \w+ SET|DELETE FROM|CREATE (TABLE|INDEX)|PRAGMA)\b/m

  def paths(ring) = Dir[File.join(ROOT, ring, "**/*.rb")]

  # @return [Array<String>] texts of all tokens of a kind
  def tokens(path, kind) = Ripper.lex(File.read(path)).filter_map { |_, token, text| text if token == kind }

  # @return [Array<String>] outermost constants that a file uses; those within another library's are its own
  def constants(path)
    texts = Ripper.lex(File.read(path)).map { |_, token, text| [token, text] }
    texts.each_index.filter_map do |at|
      token, text = texts[at]
      before = at > 1 && texts[at - 1][1] == "::" ? texts[at - 2][1] : "Northdrift"
      text if token == :on_const && before == "Northdrift"
    end
  end

  UNKNOWN.each do |ring, unknown|
    define_method("test_what_#{ring}_does_not_know") do
      known = paths(ring).to_h { |path| [path.delete_prefix("#{ROOT}/"), constants(path).uniq & unknown] }
      assert_operator known.size, :>, 1
      assert_empty(known.reject { |_, names| names.empty? })
    end
  end

  def test_sql_is_in_the_database_ring_alone
    found =
      (UNKNOWN.keys - ["store"])
        .flat_map { |ring| paths(ring) }
        .select { |path| tokens(path, :on_tstring_content).any?(SQL) }
    assert_empty(found.map { |path| path.delete_prefix("#{ROOT}/") })
    refute_empty(
      paths("store").select { |path| tokens(path, :on_tstring_content).any?(SQL) }, "it would not be found in any"
    )
  end

  # @return [Hash{String=>Array<String>}] folders of the pages, and those from which each imports; styles are looks, not
  #   code
  def folders
    source = File.join(ROOT, "web/src")
    Dir[File.join(source, "**/*.{ts,tsx}")].each_with_object({}) do |path, graph|
      names = File.read(path).scan(/(?:from|import\()\s*"(\.[^"]+)"/).flatten.grep_v(/\.css\z/)
      (graph[File.dirname(path)] ||= []).concat(
        names.map { |name| File.dirname(File.expand_path(name, File.dirname(path))) }
      )
    end
  end

  def test_folders_of_the_pages_form_no_circle
    graph = folders
    each_child = ->(folder, &found) { (graph.fetch(folder, []).uniq - [folder]).each(&found) }
    circles = TSort.strongly_connected_components(->(&found) { graph.each_key(&found) }, each_child).reject(&:one?)
    assert_empty circles
  end

  # The pages know the HTTP interface alone.
  def test_pages_import_nothing_from_outside_their_folder
    outside = Dir[File.join(ROOT, "web/src/**/*.{ts,tsx}")].select do |path|
      File
        .read(path)
        .scan(/from "(\.[^"]*)"/)
        .flatten
        .any? { |name| !File.expand_path(name, File.dirname(path)).start_with?(File.join(ROOT, "web/src/")) }
    end
    assert_empty outside
  end
end
