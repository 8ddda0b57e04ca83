# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      # Says why what comes in cannot be written at present. It stands in a file of its own, since the database may be
      # what cannot be written; and that file has its room from the start, since the disk may be full.
      class Notice
        FILE = "collector.problem"
        SIZE = 512

        UNWRITABLE =
          "Nothing can be written at present: the data folder is read-only. Senders wait; what was acknowledged is " \
          "kept."

        # @param dir [String] data folder
        # @return [String, nil]
        def self.read(dir)
          return UNWRITABLE unless File.writable?(dir)

          text = File.binread(File.join(dir, FILE)).force_encoding(Encoding::UTF_8).scrub.strip
          text unless text.empty?
        rescue Errno::ENOENT
          nil
        end

        # @param dir [String] data folder
        def initialize(dir)
          @path = File.join(dir, FILE)
        end

        # @param problem [String, nil] nil when there is none any more
        def tell(problem)
          return if @told && problem == @problem

          @told = true
          @problem = problem
          warn "northdrift: #{problem}" if problem
          File.open(@path, File::WRONLY | File::CREAT | File::BINARY) do |file|
            file.write(problem.to_s.b.byteslice(0, SIZE).ljust(SIZE))
          end
        rescue SystemCallError
          nil # the warning has said it
        end
      end
    end
  end
end
