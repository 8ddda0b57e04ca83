# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      # Says why what comes in cannot be written at present. It stands in a file of its own, since the database may be
      # what cannot be written; and that file has its room from the start, since the disk may be full. Each process that
      # tells has its own, so that none takes back what another said.
      class Notice
        FILES = {
          collector: "collector.problem", receiver: "receiver.problem", first_reader: "first-reader.problem",
          second_reader: "second-reader.problem"
        }.freeze
        READERS = %i[first_reader second_reader].freeze
        SIZE = 512

        UNWRITTEN = "Nothing can be written at present: %s. Senders wait; what was acknowledged is kept."
        UNWRITABLE = format(UNWRITTEN, "the data folder is read-only").freeze

        # @param dir [String] data folder
        # @return [String, nil] what each process says
        def self.read(dir)
          return UNWRITABLE unless File.writable?(dir)

          said = FILES.each_value.filter_map { |file| text(File.join(dir, file)) }.uniq
          said.join(" ") unless said.empty?
        end

        def self.text(path)
          text = File.binread(path).force_encoding(Encoding::UTF_8).scrub.strip
          text unless text.empty?
        rescue Errno::ENOENT
          nil
        end
        private_class_method :text

        # @param dir [String] data folder
        # @param process [Symbol] which one tells: a key of FILES
        def initialize(dir, process)
          @path = File.join(dir, FILES.fetch(process))
        end

        # @param reason [String, nil] why what came in cannot be written, as the system says it; nil when it can be
        def unwritten(reason)
          tell(reason && format(UNWRITTEN, reason.lines.first.to_s.strip.sub(/ @ .*/, "")))
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
