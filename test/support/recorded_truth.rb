# frozen_string_literal: true

require "time"
require "yaml"

module Northdrift
  # What recorded logs hold, computed from what their programs' manuals say of their form (recorded/truth.yml) with
  # Ruby's own strptime; and how many of our events are as it says.
  class RecordedTruth
    FOLDER = File.expand_path("../outside/recorded", __dir__)
    TRUTH = YAML.safe_load_file(File.join(FOLDER, "truth.yml"))
    LEVELS = TRUTH.fetch("levels").flat_map { |name, words| words.map { |word| [word, name] } }.to_h
    # A record as it should be.
    # @!attribute line [Integer] of the file, from 1
    Record = Struct.new(:line, :time, :severity, :fields)
    # How many of each are right, of how many; and what is not.
    Score = Struct.new(:records, :times, :severities, :fields, :unread, :wrong)

    # @return [Array<String>] names of the files
    def self.names = TRUTH.fetch("files").keys

    # @param name [String] of a file
    def initialize(name)
      @spec = TRUTH.fetch("files").fetch(name)
      @text = File.binread(File.join(FOLDER, name))
      @name = name
    end

    # @return [String] bytes
    attr_reader :text

    # @return [Array<Record>]
    def records
      begins = Regexp.new(@spec.fetch("begins"))
      lines = @text.force_encoding("UTF-8").lines(chomp: true)
      lines.each_with_index.filter_map do |line, index|
        Record.new(index + 1, time(line), severity(line), @spec.dig("fields", index + 1) || {}) if begins.match?(line)
      end
    end

    # @param events [Array<Event>] how we read the file
    # @return [Score]
    def score(events)
      wrong = []
      found = events.to_h { |event| [event.line_number, event] }
      count = lambda do |of, &right|
        of.count { |record| right.call(record, found[record.line]) || (wrong << "#{@name}:#{record.line}" and false) }
      end
      expected = records
      extra = found.keys - expected.map(&:line)
      wrong.concat(extra.map { |line| "#{@name}:#{line} is no record" })
      timed = expected.select(&:time)
      levelled = expected.select(&:severity)
      values = expected.flat_map { |record| record.fields.map { |pair| Record.new(record.line, nil, nil, pair) } }
      Score.new(
        [count.call(expected) { |_, event| event }, expected.size + extra.size],
        [count.call(timed) { |record, event| event&.stamped && event.time == record.time }, timed.size],
        [count.call(levelled) { |record, event| event && Severity.name(event.severity) == record.severity },
         levelled.size],
        [count.call(values) { |record, event| event && value(event, record.fields[0]) == record.fields[1] },
         values.size],
        [events.count { |event| event.reader == :plain }, events.size], wrong
      )
    end

    private

    def time(line)
      stamp = @spec["stamp"] && line[Regexp.new(@spec["stamp"]), 1] or return
      form = (@spec["forms"] || {}).find { |sign, _| stamp.include?(sign) }&.last || @spec.fetch("form")
      return hexadecimal(stamp) if form == "hexadecimal"
      return Time.at(stamp[/\d{10}/].to_i) if form == "epoch" || stamp.start_with?("(")

      form = form.delete_suffix(".%N") unless stamp.include?(".")
      whole = form.match?(/%z/i) ? [stamp, form] : ["#{stamp} #{TRUTH.fetch('machine_zone')}", "#{form} %z"]
      whole = ["#{TRUTH.fetch('day')} #{whole[0]}", "%Y-%m-%d #{whole[1]}"] unless form.include?("%d")
      whole = ["2026 #{whole[0]}", "%Y #{whole[1]}"] unless whole[1].include?("%Y")
      cut(Time.strptime(*whole))
    end

    # OpenLDAP, libraries/libldap/util-int.c: seconds and nanoseconds, in hexadecimal.
    def hexadecimal(stamp)
      seconds, nanos = stamp.split(".").map { |digits| digits.to_i(16) }
      cut(Time.at(seconds, nanos, :nsec))
    end

    def cut(time) = Time.at(time.to_i, time.usec, :usec)

    def severity(line)
      word = @spec["level"] && line[Regexp.new(@spec["level"]), 1]
      return LEVELS.fetch(word) if word

      "unset" if @spec["level"]
    end

    def value(event, name)
      case name
      when "host.name" then event.machine
      when "service.name" then event.service
      else
        value = event.fields[name]
        value.is_a?(String) ? Text.utf8(value) : value
      end
    end
  end
end
