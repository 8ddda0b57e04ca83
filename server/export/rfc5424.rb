# frozen_string_literal: true

module Northdrift
  module Server
    module Export
      # Syslog messages (RFC 5424, section 6), one a line. Fields are parameters of a private element; what tells no
      # severity is informational.
      class Rfc5424
        # No enterprise number of its own: that of documentation (RFC 5612).
        ELEMENT = "northdrift@32473"
        FACILITIES = %w[
          kern user mail daemon auth syslog lpr news uucp cron authpriv ftp ntp audit alert clock local0 local1 local2
          local3 local4 local5 local6 local7
        ].freeze
        USER = 1
        # Sections 6.2.4 to 6.2.7: printable ASCII of these lengths.
        LENGTHS = { host: 255, app: 48, pid: 128, record: 32 }.freeze
        PARAMETER = /\A[!#-<>-\\^-~]{1,32}\z/
        # Told by the header.
        IN_HEADER = %w[process.pid log.record.id syslog.facility].freeze
        BOM = "\uFEFF"

        def initialize(sheet) = @out = sheet.out

        # @param event [Store::StoredEvent]
        def <<(event)
          fields = event.fields
          names = { host: event.machine, app: event.service, pid: fields["process.pid"],
                    record: fields["log.record.id"] }
          header = ["<#{priority(event, fields)}>1", event.time, *names.map do |part, value|
            word(value, part)
          end].join(" ")
          @out << "#{header} #{element(fields)}#{message(event.message)}\n"
        end

        def finish = nil

        private

        # Section 6.2.1
        def priority(event, fields)
          facility = FACILITIES.index(fields["syslog.facility"]) || USER
          (facility * 8) + (event.severity == Severity::UNSET ? Severity::INFORMATIONAL : event.severity)
        end

        def word(value, part)
          text = value.to_s.gsub(/[^!-~]/, "_")[0, LENGTHS.fetch(part)]
          text.empty? ? "-" : text
        end

        # Section 6.3
        def element(fields)
          parameters = fields.filter_map do |name, value|
            next if IN_HEADER.include?(name) || !name.match?(PARAMETER) || name.match?(/[="\]]/)

            " #{name}=\"#{one_line(Text.utf8(value.to_s)).gsub(/[\\"\]]/) { |char| "\\#{char}" }}\""
          end
          parameters.empty? ? "-" : "[#{ELEMENT}#{parameters.join}]"
        end

        # Section 6.4
        def message(text)
          text = one_line(text)
          return "" if text.empty?

          text.ascii_only? ? " #{text}" : " #{BOM}#{text}"
        end

        # Section 8.2 lets control characters be written as their number.
        def one_line(text) = text.gsub(/[\x00-\x1F\x7F]/) { |char| format("#%03o", char.ord) }
      end
    end
  end
end
