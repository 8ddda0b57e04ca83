# frozen_string_literal: true

require "json"
require "minitest"

module Northdrift
  # Notes how long each test took, for who spreads them over processes and for who wants to make them quicker.
  class Times < Minitest::AbstractReporter
    FOLDER = File.join(ROOT, "tmp/times")

    def initialize
      super
      @rows = []
      @skipped = []
    end

    # A process that ends in the midst of its tests has begun and does not come to its report.
    def start
      super
      FileUtils.mkdir_p(FOLDER)
      FileUtils.touch(File.join(FOLDER, "#{Process.pid}.begun"))
    end

    # @param result [Minitest::Result]
    def record(result)
      @rows << [
        result.source_location.first.delete_prefix("#{ROOT}/"), "#{result.klass}##{result.name}", result.time.round(2)
      ]
      @skipped << "#{result.klass}##{result.name}: #{result.failure.message}" if result.skipped?
    end

    def report
      File.write(File.join(FOLDER, "#{Process.pid}.jsonl"), @rows.map { |row| "#{JSON.generate(row)}\n" }.join)
      File.write(File.join(FOLDER, "#{Process.pid}.skipped"), @skipped.map { |line| "#{line}\n" }.join)
    end
  end
end

module Minitest
  def self.plugin_northdrift_times_init(_) = reporter << Northdrift::Times.new
  extensions << "northdrift_times"
end
