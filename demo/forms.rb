# frozen_string_literal: true

require "oj"

module Northdrift
  module Demo
    # How the machines of the demo write: one method a format.
    module Forms
      FACILITIES = { kern: 0, user: 1, mail: 2, daemon: 3, auth: 4, cron: 9, local4: 20, local7: 23 }.freeze
      SEVERITIES = { emergency: 0, alert: 1, critical: 2, error: 3, warning: 4, notice: 5, info: 6, debug: 7 }.freeze

      module_function

      def pri(facility, severity) = (FACILITIES.fetch(facility) * 8) + SEVERITIES.fetch(severity)

      # RFC 5424
      def rfc5424(time, host, app, message, severity: :info, data: {}, pid: 412)
        elements = data.empty? ? "-" : "[gate@32473 #{data.map { |key, value| "#{key}=\"#{value}\"" }.join(' ')}]"
        "<#{pri(:local4, severity)}>1 #{time.strftime('%Y-%m-%dT%H:%M:%S.%3NZ')} #{host} #{app} #{pid} - #{elements} " \
          "#{message}"
      end

      # RFC 3164 as a file has it
      def rfc3164(time, host, tag, message, pid: nil)
        "#{time.strftime('%b %e %H:%M:%S')} #{host} #{tag}#{"[#{pid}]" if pid}: #{message}"
      end

      # The same with the ISO stamps of newer systems
      def iso(time, host, tag, message, pid: nil)
        "#{time.strftime('%Y-%m-%dT%H:%M:%S.%6N+00:00')} #{host} #{tag}#{"[#{pid}]" if pid}: #{message}"
      end

      # RFC 3164 as network devices send it
      def device(time, host, mnemonic, message)
        severity = mnemonic[/-([0-7])-/, 1].to_i
        "<#{(FACILITIES[:local7] * 8) + severity}>#{time.strftime('%b %e %H:%M:%S')} #{host} %#{mnemonic}: #{message}"
      end

      def json(time, level, message, service:, **fields)
        Oj.dump(
          {
            "time" => time.strftime("%Y-%m-%dT%H:%M:%S.%6NZ"), "level" => level.to_s, "service" => service,
            "msg" => message, **fields.transform_keys(&:to_s)
          }, mode: :strict
        )
      end

      def pairs(time, level, message, **fields)
        rest = fields.map { |key, value| "#{key}=#{value.to_s.match?(/[\s"]/) ? value.to_s.inspect : value}" }.join(" ")
        "ts=#{time.strftime('%Y-%m-%dT%H:%M:%S.%3NZ')} level=#{level} msg=#{message.inspect} #{rest}".rstrip
      end

      # Combined Log Format
      def access(time, client, request, status, size, agent)
        stamp = time.strftime("%d/%b/%Y:%H:%M:%S +0000")
        "#{client} - - [#{stamp}] \"#{request} HTTP/1.1\" #{status} #{size} \"-\" \"#{agent}\""
      end

      def windows(time, host, provider, id, level, record, channel: "System", message: nil, data: {})
        values = data.map { |name, value| "    <Data Name=\"#{name}\">#{value.to_s.encode(xml: :text)}</Data>" }
        rendered =
          message &&
          "  <RenderingInfo Culture=\"en-US\"><Message>#{message.encode(xml: :text)}</Message></RenderingInfo>\n"
        <<~XML.chomp
          <Event xmlns="http://schemas.microsoft.com/win/2004/08/events/event">
            <System>
              <Provider Name="#{provider}"/><EventID>#{id}</EventID><Level>#{level}</Level>
              <TimeCreated SystemTime="#{time.strftime('%Y-%m-%dT%H:%M:%S.%6N0Z')}"/><EventRecordID>#{record}</EventRecordID>
              <Channel>#{channel}</Channel><Computer>#{host}</Computer>
            </System>
            <EventData>
          #{values.join("\n")}
            </EventData>
          #{rendered}</Event>
        XML
      end

      # Database server: level in capitals, further lines indented
      def database(time, level, message, detail = nil)
        "#{time.strftime('%Y-%m-%d %H:%M:%S.%3N UTC')} [#{1200 + (time.sec % 7)}] #{level}:  #{message}" \
          "#{"\n\t#{detail.gsub("\n", "\n\t")}" if detail}"
      end
    end
  end
end
