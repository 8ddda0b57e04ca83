# frozen_string_literal: true

require "fileutils"
require "net/http"
require "openssl"
require "socket"

module Northdrift
  module Standins
    # Sends a machine's lines to a collector as such machines do: over syslog, over HTTP, or into a file that is
    # followed. What cannot be delivered is kept and sent again.
    class Sender
      # How the files of the demo world travel, by the end of their names; the first that fits.
      WAYS = {
        /\.trap\z/ => :snmp, %r{\A(?:sw|rtr)-.*/device\.log\z} => :udp, %r{/gate\.log\z} => :udp,
        %r{/(?:bookingd\.log|audit\.json|kiosk\.log)\z} => :http,
        %r{\A(?:bastion-1|dc-01|print-01|hall-kiosk-\d)/} => :tls, %r{/(?:database|access|gauge)\.log\z} => :file
      }.freeze
      USUAL = :tcp
      FACILITY = 3 # daemon, RFC 5424, table 1
      # What is held for a collector that does not answer.
      MOST_HELD = 50_000

      # @param ports [Hash{Symbol=>Integer}] of the collector's listeners
      # @param token [String]
      # @param folder [String] that is followed
      def initialize(ports, token:, folder:, address: "127.0.0.1")
        @ports = ports
        @token = token
        @folder = folder
        @address = address
        @held = Hash.new { |held, way| held[way] = [] }
        @udp = UDPSocket.new
      end

      # @param path [String] "machine/file"
      # @param line [String]
      def send(path, line)
        way = WAYS.find { |pattern, _| pattern.match?(path) }&.last || USUAL
        @held[way] << [path, with_priority(way, line)]
      end

      # Delivers what was sent since the last time.
      def flush
        @held.each do |way, lines|
          next if lines.empty?

          deliver(way, lines)
          lines.clear
        rescue SystemCallError, IOError, OpenSSL::SSL::SSLError, Timeout::Error
          close(way)
          lines.shift(lines.size - MOST_HELD) if lines.size > MOST_HELD
        end
      end

      private

      def deliver(way, lines)
        case way
        when :udp then texts(lines).each { |line| @udp.send(line, 0, @address, @ports.fetch(:udp)) }
        when :snmp then texts(lines).each { |change| Ports.notify(change, @address, @ports.fetch(:snmp)) }
        when :tcp then (@tcp ||= TCPSocket.new(@address, @ports.fetch(:tcp))).write(counted(lines))
        when :tls then (@tls ||= secure).write(counted(lines))
        when :http then post(lines)
        when :file then lines.each { |path, line| append(path, line) }
        end
      end

      # Files leave out what the network has (RFC 3164, section 4.1.1): how bad it is.
      def with_priority(way, line)
        return line if %i[file http snmp].include?(way) || line.start_with?("<")

        code, = Reading::SeverityWords.read(line)
        "<#{(FACILITY * 8) + (code == Severity::UNSET ? Severity::INFORMATIONAL : code)}>#{line}"
      end

      # RFC 6587, section 3.4.1.
      def counted(lines) = texts(lines).map { |line| "#{line.bytesize} #{line}" }.join

      def texts(lines) = lines.map(&:last)

      # The certificate is the collector's own, made on its first use.
      def secure
        socket = OpenSSL::SSL::SSLSocket.new(TCPSocket.new(@address, @ports.fetch(:tls)))
        socket.sync_close = true
        socket.connect
      end

      # The lines of a machine name it in their path alone.
      def post(lines)
        body =
          lines
            .map do |path, line|
              if line.start_with?("{") && !line.include?('"host"')
                line.sub("{", "{\"host\":\"#{path[%r{\A[^/]+}]}\",")
              else
                line
              end
            end
            .join("\n")
        answer =
          Net::HTTP.post(
            URI("http://#{@address}:#{@ports.fetch(:http)}/lines"), body,
            "authorization" => "Bearer #{@token}", "content-type" => "application/x-ndjson"
          )
        raise IOError, answer.body unless answer.is_a?(Net::HTTPSuccess)
      end

      def append(path, line)
        file = File.join(@folder, path)
        FileUtils.mkdir_p(File.dirname(file))
        File.write(file, "#{line}\n", mode: "a")
      end

      def close(way)
        socket = { tcp: @tcp, tls: @tls }[way]
        socket&.close
        @tcp = nil if way == :tcp
        @tls = nil if way == :tls
      rescue SystemCallError, IOError
        nil
      end
    end
  end
end
