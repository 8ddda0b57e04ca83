# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # Records of many lines that name a value on each: crash reports, and events as consoles of Windows list them.
      module Listing
        NAME = :listing
        TITLE = "names and values, one a line"
        WHY = "begins as crash reports and lists of events do, with a name and a value on each line"

        # A way of listing.
        # @!attribute start [Regexp] its first line
        # @!attribute finish [Regexp, nil] its last line; without one it ends where the next begins
        # @!attribute names [Hash{String=>String}] how a name that it writes is understood; where it has words of its
        #   own (`message`), others are none
        # @!attribute inside [Regexp, nil] what its other lines are; without one they have no time at their start
        # @!attribute message [Regexp, nil] what says in words what happened, where no value does
        # @!attribute constants [Hash{String=>String}] what each such record is told by being one
        Way = Struct.new(:start, :finish, :inside, :names, :message, :constants)

        EVENT = {
          "Date" => "time", "TimeCreated" => "time", "Source" => "service",
          "ProviderName" => "service", "Computer" => "machine", "MachineName" => "machine", "Level" => "level",
          "LevelDisplayName" => "level", "Description" => "message", "Message" => "message",
          "Log Name" => "event.channel", "LogName" => "event.channel", "Event ID" => "event.id", "Id" => "event.id",
          "Task" => "event.task", "RecordId" => "event.record.id"
        }.freeze
        # `wevtutil query-events /format:text`, and what Get-WinEvent gives to Format-List (Microsoft Learn). The
        # fatal error log of Java's runtime (Java SE Troubleshooting Guide, appendix "Fatal Error Log").
        WAYS = [
          Way.new(/\AEvent\[\d{1,9}\]:?\s*\z/, nil, nil, EVENT, nil, {}),
          Way.new(/\ATimeCreated {1,40}: /, nil, nil, EVENT, nil, {}),
          # Read by {JournalVerbose}
          Way.new(JournalVerbose::START, nil, JournalVerbose::INSIDE),
          Way.new(
            /\A# A fatal error has been detected by /, /\AEND\.\s*\z/, nil,
            { "Time" => "time", "time" => "time", "Host" => "machine", "Command Line" => "process.command_line" },
            /\A(?:#.*\r?\n?)+/, { "level" => "fatal" }
          )
        ].freeze
        FIRST = "ET#MWFS".bytes.freeze
        # What a crash report of Java has above its first words.
        ABOVE = "#"
        ABOVE_START = "# A fatal error"

        PAIR = /\A[ \t]{0,8}([A-Za-z][\w \/]{0,40}?) *:(?:[ \t]+(.*)|\s*)\z/
        # So many lines name something.
        NAMED = 60
        # What stands behind a time and a machine's name.
        TIME_REST = / elapsed time: .*\z/
        HOST_REST = /,.*\z/
        CRASHED = /\A#[ \t]+(\w+) \(0x\h+\) at pc=0x\h+, pid=(\d+), tid=(\d+)/

        module_function

        # @param text [String] a line
        # @return [Way, nil] how the record is written that begins with it
        def begins(text)
          FIRST.include?(text.getbyte(0)) ? WAYS.find { |way| way.start.match?(text) } : nil
        end

        # @param record [String] bytes of a whole record
        # @param context [Context]
        # @return [Event, nil] nil when the record is of another format
        def read(record, context)
          line = record.byteslice(record.start_with?("#{ABOVE}\n", "#{ABOVE}\r\n") ? record.index("\n") + 1 : 0, 200)
          way = begins(line[/\A[^\r\n]*/])
          return unless way&.names

          pairs = pairs(record, way).merge(way.constants)
          pairs["message"] = words(record, way) if way.message && !pairs.key?("message")
          event = JsonLines.build(record, pairs, context, NAME)
          crash(event, record) if way.message
          event
        end

        # A value goes on with lines that name nothing.
        def pairs(record, way)
          last = nil
          record.each_line(chomp: true).first(NAMED).each_with_object({}) do |line, pairs|
            match = PAIR.match(line)
            if match && last != "message"
              last = way.names[match[1]] || (way.message ? next : FieldNames.common(match[1]))
              pairs[last] = value(last, match[2].to_s.strip) unless pairs.key?(last)
            elsif last == "message"
              pairs[last] = [pairs[last], line.strip].reject(&:empty?).join("\n".b)
            end
          end.reject { |_, value| value.to_s.empty? || value == "N/A" }
        end
        private_class_method :pairs

        def value(name, text)
          case name
          when "time" then text.sub(TIME_REST, "")
          when "machine" then text.sub(HOST_REST, "")
          when "event.id" then Integer(text, 10, exception: false) || text
          else text
          end
        end
        private_class_method :value

        def words(record, way)
          text = record.sub(/\A#\r?\n/, "")[way.message].to_s
          text.gsub(/^#[ \t]*/, "").split(/[\r\n]+/).reject(&:empty?).join("\n".b)
        end
        private_class_method :words

        def crash(event, record)
          match = record.each_line.first(8).filter_map { |line| CRASHED.match(line) }.first or return
          names = %w[process.signal.name process.pid thread.id]
          event.fields = event.fields.merge(names.zip(match.captures).to_h)
        end
        private_class_method :crash
      end
    end
  end
end
