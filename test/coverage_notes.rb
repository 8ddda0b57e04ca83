# frozen_string_literal: true

# What lines of the house the tests reach, in all processes that they start: forked ones, those that end at once, and
# servers that are started as a person starts them (RUBYOPT has them load this file). Each line is noted the first time
# it runs, which costs next to nothing. test/coverage_report.rb puts the notes of all processes together.
unless ENV["NORTHDRIFT_COVERAGE"].to_s.empty?
  require "coverage"
  require "fileutils"

  # The notes of this process.
  module NorthdriftCoverage
    ROOT = File.expand_path("..", __dir__)
    RINGS = /\A#{Regexp.escape(ROOT)}\/(?:core|store|intake|server|standins|demo)\//
    FOLDER = File.join(ROOT, "tmp/coverage")

    # Processes that end without the handlers of their end.
    module Ends
      def exit!(*)
        NorthdriftCoverage.note
        super
      end
    end

    # A process that was forked notes what it does itself.
    module Forks
      def _fork
        super.tap { |pid| NorthdriftCoverage.forked if pid.zero? }
      end
    end

    module_function

    def forked = @noted = nil

    def note
      return if @noted == Process.pid

      @noted = Process.pid
      lines = Coverage.peek_result.filter_map do |path, found|
        [path.delete_prefix("#{ROOT}/"), found[:oneshot_lines]] if path.match?(RINGS) && found[:oneshot_lines].any?
      end
      FileUtils.mkdir_p(FOLDER)
      name = "#{@noted}-#{Process.clock_gettime(Process::CLOCK_MONOTONIC, :nanosecond)}"
      # Who is killed while writing leaves no half of a note.
      File.binwrite(File.join(FOLDER, ".#{name}"), Marshal.dump(lines.to_h))
      File.rename(File.join(FOLDER, ".#{name}"), File.join(FOLDER, name))
    rescue SystemCallError
      nil # a disk that a test has filled
    end
  end

  Coverage.start(oneshot_lines: true)
  Process.singleton_class.prepend(NorthdriftCoverage::Ends)
  Kernel.prepend(NorthdriftCoverage::Ends)
  at_exit { NorthdriftCoverage.note }
end
