# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      module Inlets
        # Syslog over TCP (RFC 6587), with octet counting or lines.
        class Tcp < Inlet
          CHUNK = 1 << 16
          # Connections at once: of all, and of one sender.
          MOST = 400
          MOST_OF_ONE = 60

          private

          def run
            @connections = Hash.new(0)
            @sockets = []
            @server = TCPServer.new(@given["address"], @given["port"])
            @office.problem(@feed, nil)
            until @stopping
              socket = @server.accept
              peer = socket.peeraddr(false)[3]
              admit(peer) ? serve(socket, peer) : refuse(socket)
            end
          ensure
            @server&.close
          end

          def close
            super
            @lock.synchronize { @sockets.to_a.dup }.each { |socket| shut(socket) }
          end

          def admit(peer)
            @lock.synchronize do
              next false if @connections.values.sum >= MOST || @connections[peer] >= MOST_OF_ONE

              @connections[peer] += 1
            end
          end

          def refuse(socket)
            @office.count(@feed, :refused)
            socket.close
          end

          def serve(socket, peer)
            @lock.synchronize do
              @sockets << socket
              @threads.select!(&:alive?)
              @threads << thread { connection(socket, peer) }
            end
          end

          def connection(socket, peer)
            plain = socket
            socket = secured(socket)
            receive(socket, stream(peer))
          rescue Reading::SyslogFrames::Invalid, OpenSSL::SSL::SSLError
            @office.count(@feed, :refused)
          rescue IOError, SystemCallError
            nil # the sender is gone; what came before is kept
          ensure
            [socket, plain].compact.uniq.each { |one| shut(one) }
            @lock.synchronize do
              @sockets.delete(plain)
              @connections.delete(peer) if (@connections[peer] -= 1) < 1
            end
          end

          # Reading stops while the funnel is full: TCP slows the sender down.
          def receive(socket, stream)
            frames = Reading::SyslogFrames.new
            while (chunk = socket.readpartial(CHUNK))
              add(stream, frames.push(chunk))
            end
          rescue EOFError
            add(stream, frames.finish)
          rescue Reading::SyslogFrames::Invalid
            add(stream, frames.last)
            raise
          end

          def add(stream, messages) = messages.empty? || @funnel.messages(stream, messages)

          def secured(socket) = socket

          def shut(socket)
            socket.close
          rescue IOError, SystemCallError
            nil
          end
        end
      end
    end
  end
end
