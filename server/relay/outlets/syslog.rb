# frozen_string_literal: true

require "openssl"
require "socket"

module Northdrift
  module Server
    module Relay
      module Outlets
        # Syslog over TCP (RFC 6587, octet counting) or TLS (RFC 5425). Neither has an answer that says what was taken:
        # a batch counts as delivered once the other machine has acknowledged its last byte, and when a connection ends,
        # the batch before is sent again with the next one, since it may have been lost on the way from that machine to
        # its program.
        class Syslog
          CONNECT_SECONDS = 10
          ACKNOWLEDGE_SECONDS = 30
          LOOK_SECONDS = 0.01
          # Linux, sockios.h: bytes that were not acknowledged yet.
          SIOCOUTQ = 0x5411

          # @param given [Hash{String=>Object}]
          # @param tls [Boolean]
          def initialize(given, tls:)
            @given = given
            @tls = tls
            @before = ""
          end

          # @param events [Array<Store::StoredEvent>]
          # @return [Integer] lines that were refused: none, it cannot be told
          # @raise [SystemCallError, IOError, OpenSSL::SSL::SSLError] when it has to be tried again
          def deliver(events)
            lines = []
            form = Export::Rfc5424.new(Export::Sheet.new(lines))
            events.each { |event| form << event }
            send_off(lines.map(&:chomp))
          end

          # @param messages [Array<String>] RFC 5424, without an end
          # @return [Integer] 0
          # @raise as {#deliver}
          def send_off(messages)
            text = messages.map { |message| "#{message.bytesize} #{message}".b }.join
            close if ended?
            fresh = @socket.nil?
            connect if fresh
            @socket.write(fresh ? @before + text : text)
            wait_until_acknowledged
            @before = text
            0
          rescue StandardError
            close
            raise
          end

          # To be called while there is nothing to deliver: what was sent last may have been lost with its connection.
          # It is sent again once; a machine that ends idle connections would have it for ever.
          # @raise as {#deliver}
          def settle
            return if @before.empty? || !ended?

            close
            connect
            @socket.write(@before)
            @before = ""
            wait_until_acknowledged
          rescue StandardError
            close
            raise
          end

          def close
            @socket&.close
          rescue SystemCallError, IOError, OpenSSL::SSL::SSLError
            nil
          ensure
            @socket = nil
          end

          private

          def connect
            @tcp = Socket.tcp(Reach.address(@given["host"]), @given["port"], connect_timeout: CONNECT_SECONDS)
            @socket = @tls ? secured(@tcp) : @tcp
          end

          def secured(tcp)
            OpenSSL::SSL::SSLSocket.new(tcp, Trust.context(@given["certificate"])).tap do |socket|
              socket.sync_close = true
              socket.hostname = @given["host"] unless @given["host"].match?(/\A[\d.:]+\z/)
              socket.connect
              socket.post_connection_check(@given["host"]) if @given["certificate"].to_s.empty?
            end
          end

          # A receiver of syslog says nothing; when there is something to read, it is the end.
          def ended?
            return false unless @socket && @tcp.wait_readable(0)

            answer = @tls ? @socket.read_nonblock(1, exception: false) : @tcp.recv_nonblock(1, exception: false)
            answer.nil? || answer == ""
          rescue SystemCallError, IOError, OpenSSL::SSL::SSLError
            true
          end

          def wait_until_acknowledged
            ends = Process.clock_gettime(Process::CLOCK_MONOTONIC) + ACKNOWLEDGE_SECONDS
            until unacknowledged.zero?
              break if ended?
              if Process.clock_gettime(Process::CLOCK_MONOTONIC) > ends
                raise Errno::ETIMEDOUT, "the other machine takes nothing"
              end

              sleep LOOK_SECONDS
            end
            raise EOFError, "the other machine has ended the connection" if ended?
          end

          def unacknowledged
            bytes = [0].pack("i")
            @tcp.ioctl(SIOCOUTQ, bytes)
            bytes.unpack1("i")
          end
        end
      end
    end
  end
end
