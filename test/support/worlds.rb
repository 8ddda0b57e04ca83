# frozen_string_literal: true

require "digest"
require "fileutils"
require "net/http"

module Northdrift
  # The moments at which tests play, and what they find there. The demo world of a moment is made once, kept in
  # tmp/worlds for as long as the code that makes it stays the same, and copied for whoever plays in it.
  module Worlds
    # A Wednesday afternoon, so that neither yesterday nor the day before is a Sunday.
    MOMENT = Time.utc(2026, 11, 25, 14)
    # Two minutes before midnight in Oslo, at the end of the day that has 25 hours there.
    MIDNIGHT = Time.utc(2026, 10, 25, 22, 58)
    ALL = [MOMENT, MIDNIGHT].freeze
    YESTERDAY = "2026-11-24"
    FOLDER = File.join(ROOT, "tmp/worlds")
    MADE_BY = %w[northdrift.rb Gemfile.lock core/**/*.{rb,yml} store/**/*.rb intake/**/*.rb demo/*].freeze

    module_function

    # @param moment [Time]
    # @param dir [String] the copy of its data folder goes below this
    # @return [String] the copy
    def copy(moment, dir)
      FileUtils.mkdir_p(dir)
      FileUtils.cp_r(prepared(moment), File.join(dir, "data"))
      File.join(dir, "data")
    end

    # @return [String] a data folder that nobody writes to
    def prepared(moment)
      FileUtils.mkdir_p(FOLDER)
      name = moment.strftime("%Y%m%dT%H%M")
      File.open(File.join(FOLDER, "#{name}.lock"), File::RDWR | File::CREAT) do |lock|
        lock.flock(File::LOCK_EX) # several processes of tests start at once
        home = File.join(FOLDER, "#{name}-#{makers}")
        make(moment, home) unless File.exist?(File.join(home, "made"))
        Demo::Builder.data_dir(home, now: moment)
      end
    end

    def make(moment, home)
      FileUtils.rm_rf(Dir["#{home[/.*-/]}*"])
      # In a process of its own: nothing of it stays open here.
      pid = fork do
        Store::Clock.turn(moment)
        Demo::Builder.build(home, now: moment)
        FileUtils.touch(File.join(home, "made"))
        exit!(0)
      rescue StandardError => error
        warn error.full_message(highlight: false)
        exit!(1) # without the tests that would be run at its end
      end
      Process.wait(pid)
      raise "the demo world of #{moment} could not be made" unless File.exist?(File.join(home, "made"))
    end

    def makers
      paths = MADE_BY.flat_map { |glob| Dir[File.join(ROOT, glob)] }.select { |path| File.file?(path) }
      Digest::SHA256.hexdigest(paths.sort.map { |path| Digest::SHA256.file(path).hexdigest }.join)[0, 16]
    end
  end
end
