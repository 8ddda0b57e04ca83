# frozen_string_literal: true

require "nokogiri"

module Northdrift
  module Reading
    module Formats
      # What Java's own logger writes to files by default: one `<record>` element a record (Java documentation,
      # java.util.logging.XMLFormatter, and its DTD in "Java Logging Overview", appendix A).
      module JavaXml
        NAME = :java_xml
        TITLE = "Java logging XML"
        WHY = "a <record> element with a date or milliseconds, and a level"

        START = /\A\s*(?:<\?xml[^>]*\?>\s*)?(?:<!DOCTYPE[^>]*>\s*)?(?:<log>\s*)?(?=<record>)/
        FINISH = "</record>"
        # Class Level of java.util.logging; what it names beside its level words.
        LEVELS = { "CONFIG" => Severity::DEBUG }.freeze
        NAMES = {
          "logger" => "logger.name", "class" => "code.namespace", "method" => "code.function.name",
          "thread" => "thread.id", "sequence" => "log.record.id", "key" => "log.record.key"
        }.freeze

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the record is of another format
        def read(line, context)
          start = START.match(line) or return
          finish = line.rindex(FINISH) or return
          xml = line.byteslice(start.end(0), finish + FINISH.bytesize - start.end(0))
          root = Nokogiri::XML(Text.utf8(xml), nil, "UTF-8") { |config| config.nonet.recover }.root or return
          stamp = stamp(root, context.clock) or return
          level = text(root, "level").to_s
          code = LEVELS[level] || Severity.from_word(level)
          context.event(
            line,
            reader: NAME, stamp: stamp, message: message(root), fields: fields(root),
            severity: code && [code, "level word “#{Text.display(level)}”"]
          )
        end

        def stamp(root, clock)
          times = [text(root, "date"), text(root, "millis")].compact
          times.lazy.filter_map { |time| Stamp.read_value(time, clock) }.first
        end
        private_class_method :stamp

        def fields(root)
          fields = NAMES.filter_map { |name, field| (value = text(root, name)) && [field, value] }.to_h
          type, _, reason = text(root, "exception/message").to_s.partition(": ")
          fields["exception.type"] = type unless type.empty?
          fields["exception.message"] = reason unless reason.empty?
          fields
        end
        private_class_method :fields

        # With the trace of what was thrown.
        def message(root)
          frames = root.xpath("exception/frame").map do |frame|
            place = [frame.at_xpath("class")&.text, frame.at_xpath("method")&.text].compact.join(".")
            "\tat #{place}(line #{frame.at_xpath('line')&.text || '?'})"
          end
          [text(root, "message"), text(root, "exception/message"), *frames.map(&:b)].compact.join("\n").b
        end
        private_class_method :message

        def text(root, path)
          value = root.at_xpath(path)&.text&.strip
          value&.b unless value && value.empty?
        end
        private_class_method :text
      end
    end
  end
end
