# frozen_string_literal: true

require "yaml"

# The texts of shapes.yml, runs of each sign that readers look for, and texts in which nothing comes twice.
module Shapes
  SIGNS = [
    *%q(a 1 . / : , ; = - _ [ \( { < " ' \\ | # @ % ] \) } > & + * ~ ! \\").split,
    "a.", "a=", "a:", "[a", "[a]", "1.", "1:", "a/", "::", "a::b.", "(a)", "<a>", '="', " ", "a b ",
    "a, ", "a\t", "' '"
  ].freeze
  STAMP = "2026-11-22 06:12:08 "
  SYSLOG = "Nov 22 06:12:08 hall app[1]: "
  # What stands in each once, a number in it.
  EACH = {
    "machines" => "Nov 22 06:12:08 hall%08d app: a\n", "services" => "Nov 22 06:12:08 hall app%08d: a\n",
    "services of a known kind" => "Nov 22 06:12:08 hall cron%08d: a\n", "names of pairs" => "a%08d=b ",
    "templates" => "2026-11-22 06:12:08 a%08x x\n", "keys" => "{\"a%08d\":1}\n"
  }.freeze

  module_function

  # @return [Hash{String=>Proc}] by name, what gives so many bytes of it
  def all
    YAML.safe_load_file(File.join(__dir__, "shapes.yml"))
      .transform_values { |shape| again(shape["again"], shape["start"].to_s, shape["finish"].to_s) }
      .merge(runs, EACH.transform_values { |line| each(line) })
      .merge(
        "keys of an object" => ->(size) { "{#{Array.new(size / 14) { |n| format('"a%08d":1', n) }.join(',')}}\n".b },
        "lines of deep objects" => again("#{'{"a":' * 400}1#{'}' * 400}\n", "", ""),
        "bytes that are no text" => again((128..255).map(&:chr).join.b, "", ""), "blanks in a journal" => blanks
      )
  end

  # Long runs, behind what readers look for first.
  def runs
    SIGNS.each_with_object({}) do |sign, runs|
      runs["a line of #{sign.inspect}"] = again(sign, STAMP, "!")
      runs["syslog of #{sign.inspect}"] = again(sign, SYSLOG, "!")
      runs["nothing but #{sign.inspect}"] = again(sign, "", "!\n")
      runs["lines of forty #{sign.inspect}"] = again("#{sign * 40}!\n", "", "")
    end
  end

  def again(text, start, finish)
    text, start, finish = [text, start, finish].map(&:b)
    lambda do |size|
      room = [size - start.bytesize - finish.bytesize, 0].max
      # Whole ones alone: what is cut in the midst may be quite another shape.
      start + (text * (room / text.bytesize)) + finish
    end
  end

  def each(line) = ->(size) { Array.new(size / format(line, 1).bytesize) { |number| format(line, number) }.join.b }

  # A value of many empty lines behind many fields: the entry ends with none of them.
  def blanks
    lambda do |size|
      "#{"__CURSOR=a\n".b}#{"A=b\n" * (size / 8)}M\n#{[size * 4].pack('Q<')}#{"\n" * (size / 2)}"
    end
  end
end
