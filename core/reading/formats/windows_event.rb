# frozen_string_literal: true

require "nokogiri"

module Northdrift
  module Reading
    module Formats
      # Windows event XML (schema http://schemas.microsoft.com/win/2004/08/events/event): one `<Event>` element a
      # record.
      module WindowsEvent
        NAME = :windows_event
        TITLE = "Windows event XML"
        WHY = "an <Event> element with a <System> part"

        START = /\A\s*(?:\xEF\xBB\xBF)?(?:<\?xml[^>]*\?>\s*)?(?:<Events[^>]*>\s*)?(?=<Event[\s>])/n
        FINISH = "</Event>"
        # System/Level, as the event schema has it. 0 means "always log".
        LEVELS = { 0 => Severity::INFORMATIONAL, 1 => Severity::CRITICAL, 2 => Severity::ERROR, 3 => Severity::WARNING,
                   4 => Severity::INFORMATIONAL, 5 => Severity::DEBUG }.freeze
        AUDIT_FAILURE = 0x10_0000_0000_0000
        FORMS = %i[iso].freeze

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the record is of another format
        def read(line, context)
          start = START.match(line) or return
          finish = line.rindex(FINISH) or return
          xml = line.byteslice(start.end(0), finish + FINISH.bytesize - start.end(0))
          root = Nokogiri::XML(Text.utf8(xml), nil, "UTF-8") { |config| config.nonet.recover }.remove_namespaces!.root
          system = root&.at_xpath("System") or return
          stamp = Stamp.read_value(attribute(system, "TimeCreated", "SystemTime").to_s, context.clock)
          fields = system_fields(system).merge(data_fields(root))
          id = system.at_xpath("EventID")&.text
          context.event(
            line,
            reader: NAME, stamp: stamp, message: message(root, id, fields), machine: text(system, "Computer"),
            service: attribute(system, "Provider", "Name"), severity: severity(system), fields: fields
          )
        end

        def severity(system)
          keywords = Integer(text(system, "Keywords") || "0", exception: false) || 0
          return [Severity::WARNING, "keyword: audit failure"] if keywords.anybits?(AUDIT_FAILURE)

          level = Integer(text(system, "Level") || "", exception: false)
          code = LEVELS[level] or return [Severity::UNSET, "no Level"]
          [code, "Level #{level} of the event schema"]
        end
        private_class_method :severity

        def system_fields(system)
          {
            "event.id" => Integer(text(system, "EventID") || "", exception: false),
            "event.record.id" => Integer(text(system, "EventRecordID") || "", exception: false),
            "event.channel" => text(system, "Channel"),
            "event.task" => text(system, "Task"),
            "process.pid" => Integer(attribute(system, "Execution", "ProcessID") || "", exception: false),
            "user.id" => attribute(system, "Security", "UserID")
          }.compact
        end
        private_class_method :system_fields

        def data_fields(root)
          fields = {}
          root.xpath("EventData/Data").each_with_index do |data, index|
            name = data["Name"] || "param#{index + 1}"
            fields[FieldNames.common(name)] ||= data.text.b unless data.text.empty?
          end
          root
            .xpath("UserData//*[not(*)]")
            .each { |leaf| fields[FieldNames.common(leaf.name)] ||= leaf.text.b unless leaf.text.empty? }
          fields
        end
        private_class_method :data_fields

        # The text that Windows rendered, or else what the event carries, since the templates stay on the machine.
        def message(root, id, fields)
          rendered = root.at_xpath("RenderingInfo/Message")&.text
          return rendered.b if rendered && !rendered.empty?

          values = fields.reject { |name, _| name.start_with?("event.") || name == "process.pid" || name == "user.id" }
          "event #{id}: #{values.map { |name, value| "#{name}=#{Text.utf8(value.to_s)}" }.join(' ')}".b
        end
        private_class_method :message

        def text(system, name)
          value = system.at_xpath(name)&.text
          value&.b unless value && value.empty?
        end
        private_class_method :text

        def attribute(system, element, name) = system.at_xpath(element)&.[](name)&.b
        private_class_method :attribute
      end
    end
  end
end
