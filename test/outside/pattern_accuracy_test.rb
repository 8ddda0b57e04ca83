# frozen_string_literal: true

require_relative "../test_helper"
require "zlib"

# Are lines of one kind, and only those, put together? Grouping accuracy as J. Zhu et al. define it ("Tools and
# benchmarks for automated log parsing", ICSE-SEIP 2019): the share of lines whose pattern has exactly the lines of
# their true kind.
#
# The lines were written by real programs: dpkg, OpenSSH, the Linux kernel, the Apache web server, PostgreSQL, Exim,
# dnsmasq and a Java virtual machine (its garbage collector). Kinds of the web server and the database are the places in
# their source that they themselves name; of the others, by hand after the programs' own messages, see
# patterns/README.md.
class PatternAccuracyTest < Minitest::Test
  include Northdrift

  SYSTEMS = Dir[File.join(__dir__, "patterns/*.tsv.gz")].to_h { |path| [File.basename(path, ".tsv.gz"), path] }.freeze
  LEAST = 0.90

  # @return [Array<Array(String, String)>] true kind and message
  def lines(path) = Zlib.gunzip(File.binread(path)).lines.map { |line| line.chomp.split("\t", 2) }

  # As the writer does: templates in the order in which they come, and at the end the pattern of each.
  # @return [Array<Integer>] pattern of each message
  def patterns(messages)
    tree = Patterns::Tree.new
    joined = Hash.new { |into, id| into[id] = id }
    templates = Hash.new do |known, text|
      known[text] = (
        tree.place(text) ||
          tree
            .add(known.size, text)
            .tap { |new| tree.join(new).then { |first, *rest| rest.each { |pattern| joined[pattern.id] = first.id } } }
      ).id
    end
    ids = messages.map { |message| templates[Text.display(Patterns::Mask.template(message))] }
    ids.map { |id| id = joined[id] until joined[id] == id; id } # rubocop:disable Style/Semicolon
  end

  def accuracy(kinds, patterns)
    sizes = kinds.tally
    right = kinds.zip(patterns).group_by(&:last).sum do |_, members|
      found = members.map(&:first).tally
      found.size == 1 && sizes[found.keys.first] == members.size ? members.size : 0
    end
    right.fdiv(kinds.size)
  end

  def test_lines_of_one_kind_are_put_together
    assert_operator SYSTEMS.size, :>=, 8
    found = SYSTEMS.to_h do |name, path|
      kinds, messages = lines(path).transpose
      assert_operator messages.size, :>=, 2000, name
      [
        name,
        [
          messages.size, kinds.uniq.size, patterns(messages).then { |ids| [accuracy(kinds, ids), ids.uniq.size] }
        ].flatten
      ]
    end
    found.each do |name, (lines, kinds, share, patterns)|
      puts format("%-16s %5d lines %4d kinds %4d patterns  grouping accuracy %.3f", name, lines, kinds, patterns, share)
    end
    mean = found.sum { |_, (_, _, share)| share } / found.size
    puts format("%-16s %s  grouping accuracy %.3f", "mean", " " * 36, mean)
    assert_operator mean, :>=, LEAST
  end

  # By hand: two kinds of three and two lines, one of which is torn apart.
  def test_the_measure_itself
    assert_in_delta 1.0, accuracy(%w[a a a b b], [1, 1, 1, 2, 2]), 1e-12
    assert_in_delta 0.4, accuracy(%w[a a a b b], [1, 1, 3, 2, 2]), 1e-12
    assert_in_delta 0.0, accuracy(%w[a a a b b], [1, 1, 1, 1, 1]), 1e-12
  end
end
