# frozen_string_literal: true

require "erb"
require "fileutils"
require "mail"
require "midi-smtp-server"
require "oj"
require "rack"
require "snmp"
require "socket"

module Northdrift
  module Standins
    # Stand-ins for those who are told of alerts: a mail server (RFC 5321), a web hook, a syslog receiver (RFC 5426) and
    # an SNMP manager. What comes is kept in a folder, and shown on a page.
    class Catchers
      # By what is caught: how far its port is from that of the page, which takes the hooks, too.
      PORTS = { mail: 1, syslog: 2, trap: 3 }.freeze
      FOLDER = "standins/caught"
      SHOWN = 200
      MOST_DATAGRAM = 65_535
      HOST = "127.0.0.1"

      # A mail server that takes everything.
      class Mailbox < MidiSmtpServer::Smtpd
        # @yieldparam mail [Hash] envelope and message
        def initialize(port, &keep)
          @keep = keep
          super(
            ports: port.to_s, hosts: HOST, max_processings: 4, do_dns_reverse_lookup: false,
            logger_severity: Logger::FATAL
          )
        end

        def on_message_data_event(context)
          @keep.call(context[:envelope][:to].map { |to| to.delete("<>") }, context[:message][:data])
        end
      end

      # @param dir [String] data folder
      # @param port [Integer] of the page
      def initialize(dir, port)
        @folder = File.join(dir, FOLDER)
        @port = port
        FileUtils.mkdir_p(@folder)
      end

      # Catches until told to stop.
      # @param stop [#call]
      def run(stop: -> { false })
        require "puma"
        page = Puma::Server.new(method(:call), nil, { log_writer: Puma::LogWriter.null })
        page.add_tcp_listener(HOST, @port)
        page.run
        mailbox = Mailbox.new(@port + PORTS[:mail]) { |to, data| keep("mail", to.join(", "), data.gsub("\r\n", "\n")) }
        mailbox.start
        threads = [datagrams(:syslog) { |bytes, from| keep("syslog", from, bytes) },
                   datagrams(:trap) { |bytes, from| keep("trap", from, trap(bytes)) }]
        sleep 0.2 until stop.call
      ensure
        threads&.each(&:kill)
        mailbox&.stop(wait_seconds_before_close: 0, gracefully: false)
        page&.stop(true)
      end

      # The page, and the hook: what is sent to any address of it.
      # @param env [Hash] Rack environment
      # @return [Array] Rack response
      def call(env)
        request = Rack::Request.new(env)
        if request.post?
          signed = env.slice("HTTP_SIGNATURE_INPUT", "HTTP_SIGNATURE", "HTTP_IDEMPOTENCY_KEY", "HTTP_CONTENT_DIGEST")
          head = signed.map { |name, value| "#{name.delete_prefix('HTTP_').tr('_', '-').downcase}: #{value}\n" }.join
          keep("hook", request.fullpath, "#{head}\n#{request.body.read}")
          return [204, {}, []]
        end

        [200, { "content-type" => "text/html; charset=utf-8" }, [page]]
      end

      # @return [Array<Hash>] "at", "kind", "to" and "text", the latest first
      def caught
        Dir[File.join(@folder, "*.json")].last(SHOWN).reverse.map { |path| Oj.load_file(path, mode: :strict) }
      end

      private

      def keep(kind, to, bytes)
        name = Process.clock_gettime(Process::CLOCK_REALTIME, :nanosecond).to_s
        text = Text.display(bytes)
        path = File.join(@folder, "#{name}.json")
        object = { "at" => Time.now.utc.strftime("%F %T"), "kind" => kind, "to" => to, "text" => text }
        File.write("#{path}.part", Oj.dump(object, mode: :strict))
        File.rename("#{path}.part", path)
      end

      def datagrams(kind)
        socket = UDPSocket.new
        socket.bind(HOST, @port + PORTS[kind])
        Thread.new do
          loop do
            bytes, from = socket.recvfrom(MOST_DATAGRAM)
            yield bytes, from[3]
          rescue StandardError => error
            warn "northdrift: stand-in for #{kind}: #{error.message}"
          end
        end
      end

      def trap(bytes)
        values = SNMP::Message.decode(bytes, SNMP::MIB.new).pdu.varbind_list
        values.map { |one| "#{one.name} = #{one.value}" }.join("\n")
      end

      def page
        rows = caught.map do |one|
          subject, text = one["kind"] == "mail" ? read(one["text"]) : [one["text"].lines.last.to_s[0, 120], one["text"]]
          "<details><summary><b>#{one['kind']}</b> #{one['at']} #{escape(one['to'])}: #{escape(subject)}</summary>" \
            "<pre>#{escape(text)}</pre></details>"
        end
        <<~HTML
          <!doctype html><html lang="en"><meta charset="utf-8"><meta http-equiv="refresh" content="10">
          <title>What was caught</title>
          <style>body{margin:24px;background:#F6F4EE;color:#152530;font:15px/1.5 sans-serif}
          details{background:#FFFDF8;border:1px solid #DDD7C9;padding:6px 10px;margin:0 0 4px}pre{white-space:pre-wrap}
          </style><h1>What was caught</h1><p>Stand-ins for those who are told of alerts: mail, web hook, syslog, trap.</p>
          #{rows.empty? ? '<p>Nothing yet.</p>' : rows.join("\n")}
        HTML
      end

      # @return [Array(String, String)] subject and text of a mail
      def read(source)
        mail = ::Mail.read_from_string(source)
        [mail.subject.to_s, (mail.text_part || mail).decoded]
      end

      def escape(text) = ERB::Util.html_escape(text)
    end
  end
end
