# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      module Inlets
        # Syslog over UDP (RFC 5426): a datagram is a message (section 3.1).
        class Udp < Inlet
          # The most that one datagram holds (RFC 5426, section 3.2, has the sizes to be taken at least).
          LONGEST = 65_535
          # What the system keeps while this process is busy: a second of 10,000 messages, with what each takes beside
          # its text.
          BUFFER_BYTES = 32 << 20
          SO_RCVBUFFORCE = 33 # socket(7), Linux; for privileged processes
          AT_ONCE = 512
          LOSS_SECONDS = 1

          private

          def run
            @server = open
            @office.problem(@feed, nil)
            @looked = 0
            until @stopping
              next look_for_losses unless @server.wait_readable(LOSS_SECONDS)

              take
              look_for_losses
            end
          ensure
            @server&.close
          end

          def open
            address = Addrinfo.udp(@given["address"], @given["port"])
            socket = Socket.new(address.afamily, Socket::SOCK_DGRAM)
            buffer(socket)
            socket.bind(address)
            socket
          rescue SystemCallError, SocketError
            socket&.close
            raise
          end

          def buffer(socket)
            socket.setsockopt(Socket::SOL_SOCKET, SO_RCVBUFFORCE, BUFFER_BYTES)
          rescue SystemCallError
            socket.setsockopt(Socket::SOL_SOCKET, Socket::SO_RCVBUF, BUFFER_BYTES)
          end

          # All that has come, up to a number, by sender.
          def take
            found = Hash.new { |all, peer| all[peer] = [] }
            AT_ONCE.times do
              datagram, sender = @server.recvfrom_nonblock(LONGEST, exception: false)
              break unless sender

              text = text(datagram, sender)
              found[peer(sender)] << text if text
            end
            found.each { |peer, messages| @funnel.messages(stream(peer), allowed(peer, messages)) }
          end

          # @param datagram [String]
          # @param _sender [Addrinfo]
          # @return [String, nil] the line that it is
          def text(datagram, _sender)
            text = Reading::SyslogFrames.trim(datagram)
            text.b unless text.empty?
          end

          # What is above the limit of its sender is not taken, and counted.
          def allowed(peer, messages)
            allowance = allowance(peer) or return messages
            taken = allowance.take(messages.size)
            @office.count(@feed, :refused, messages.size - taken) if taken < messages.size
            messages.first(taken)
          end

          # Addresses repeat: asking for their text each time is slow.
          def peer(sender)
            (@peers ||= {})[sender.to_sockaddr[2..]] ||= (@peers.clear if @peers.size > MOST_STREAMS).then do
              sender.ip_address
            end
          end

          # proc(5): the system's own count of what it threw away for want of room.
          def look_for_losses
            now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
            return if now - @looked < LOSS_SECONDS

            @looked = now
            inode = @server.stat.ino.to_s
            drops =
              %w[/proc/net/udp /proc/net/udp6]
                .filter_map do |path|
                  File.foreach(path).map(&:split).find { |row| row[9] == inode }&.last if File.exist?(path)
                end
                .first
                .to_i
            @office.count(@feed, :lost, drops - @drops.to_i) if drops > @drops.to_i
            @drops = drops
          end
        end
      end
    end
  end
end
