# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      # Names of what devices report, from module files that somebody drops into a folder of the data folder; those
      # that ship are known without.
      class ModuleFiles
        FOLDER = "mibs"
        SHIPPED = [
          File.join(ROOT, "core/reading/mibs/standard.mib"), File.join(ROOT, "docs/NORTHDRIFT-MIB.txt")
        ].freeze
        LOOK_SECONDS = 5
        MOST_FILES = 2000
        MOST_BYTES = Reading::Mib::MOST_BYTES

        # @param dir [String] data folder
        def initialize(dir)
          @folder = File.join(dir, FOLDER)
          @lock = Mutex.new
        end

        # @return [Reading::Mib] with what lies in the folder by now
        def mib
          @lock.synchronize do
            now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
            next @mib if @mib && now - @looked < LOOK_SECONDS

            @looked = now
            state = state()
            next @mib if @mib && state == @state

            @state = state
            @mib = Reading::Mib.new((SHIPPED + state.map(&:first)).filter_map { |path| content(path) })
          end
        end

        private

        # Later files win, so that their order is always the same.
        def state
          Dir[File.join(@folder, "**/*")].select { |path| File.file?(path) }.sort.first(MOST_FILES)
            .map { |path| [path, File.mtime(path), File.size(path)] }
        rescue SystemCallError
          []
        end

        def content(path)
          File.binread(path, MOST_BYTES)
        rescue SystemCallError => error
          warn "northdrift: #{Text.display(path)} is not read: #{error.message}"
        end
      end
    end
  end
end
