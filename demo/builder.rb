# frozen_string_literal: true

require "fileutils"
require "rack"

module Northdrift
  module Demo
    # Writes the demo's files and reads them as anyone's files are read. On a day on which it ran before, the files have
    # grown, and only the new lines are read.
    module Builder
      ROSTER = File.join(__dir__, "roster.csv")

      module_function

      # @return [String] the data folder of the day
      def data_dir(dir, now: Store::Clock.now) = File.join(home(dir, now), "data")

      # @param dir [String] folder for files and data
      # @param now [Time]
      # @return [String] the data folder
      def build(dir, now: Store::Clock.now)
        home = home(dir, now)
        files = File.join(home, "files")
        data = data_dir(dir, now: now)
        write(home, files, now)
        Store::Database.open(data)
        # Sources go by their names from the machine on.
        Dir.chdir(files) do # rubocop:disable ThreadSafety/DirChdir -- nothing else runs in this process
          Intake::Importer.new(machine: ->(path) { path.split("/").first }).import(
            Intake::Parts.new(Dir.children(".").sort)
          )
        end
        # What the lines do not say of the machines; a person's changes stay.
        Store::Fleet.keep(Fleet::Roster.read(File.read(ROSTER))) if Store::Machine.none?
        Boards.keep((now.to_r * 1_000_000).to_i)
        notice((now.to_r * 1_000_000).to_i)
        Store::Setting.set("landing", landing(World.new(now: now)))
        Store::Setting.set("zone", "UTC")
        data
      end

      def notice(now_us)
        Store::Noticing.new(now_us).run
        nil until Store::OddityNoticing.new(now_us).run
      end
      private_class_method :notice

      def home(dir, now) = File.join(dir, now.getutc.strftime("%Y-%m-%d"))
      private_class_method :home

      # Yesterday's ticket hall stall.
      def landing(world)
        stamps = %w[06:02:00 06:26:00].map { |clock| world.at(1, clock).strftime("%Y-%m-%dT%H:%M:%SZ") }
        Rack::Utils.build_query("from" => stamps[0], "to" => stamps[1])
      end

      # What was written up to a moment is noted, so that the next start adds what has come since.
      def write(home, files, now)
        FileUtils.mkdir_p(files)
        note = File.join(home, "written-until")
        since = Time.at(Rational(File.read(note))) if File.exist?(note)
        World.new(now: now, since: since).files.each do |path, text|
          path = File.join(files, path)
          FileUtils.mkdir_p(File.dirname(path))
          File.open(path, "ab") { |file| file.write(text) }
        end
        File.write(note, now.to_r.to_s)
      end
      private_class_method :write
    end
  end
end
