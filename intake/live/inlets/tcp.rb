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
          # Further connections of a sender that wait for one of its own to end; more are refused.
          MOST_WAITING = 200
          # So long it waits for room before it refuses one: a sender that opens one connection after another is slowed
          # down instead, since what it has sent would be lost.
          ROOM_SECONDS = 1

          private

          def run
            @connections = Hash.new(0)
            @waiting = Hash.new { |waiting, peer| waiting[peer] = [] }
            @sockets = []
            @server = TCPServer.new(@given["address"], @given["port"])
            @office.problem(@feed, nil)
            until @stopping
              socket = @server.accept
              peer = socket.peeraddr(false)[3]
              case admitted(socket, peer)
              when :served then serve(socket, peer)
              when :refused then refuse(socket)
              end
            end
          ensure
            @server&.close
          end

          def close
            super
            @lock.synchronize { [*@sockets, *@waiting&.values&.flatten] }.each { |socket| shut(socket) }
          end

          def admitted(socket, peer)
            ends = Process.clock_gettime(Process::CLOCK_MONOTONIC) + ROOM_SECONDS
            while (state = admit(socket, peer)) == :refused && Process.clock_gettime(Process::CLOCK_MONOTONIC) < ends &&
                  !@stopping
              sleep 0.005
            end
            state
          end

          # @return [Symbol] :served, :waits until another of its sender has ended, or :refused
          def admit(socket, peer)
            @lock.synchronize do
              next :refused if @connections.values.sum >= MOST || @waiting[peer].size >= MOST_WAITING
              next @waiting[peer].push(socket) && :waits if @connections[peer] >= MOST_OF_ONE

              @connections[peer] += 1
              :served
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
            following = @lock.synchronize { leave(plain, peer) }
            serve(following, peer) if following && !@stopping
          end

          # @return [Socket, nil] the next connection of that sender
          def leave(socket, peer)
            @sockets.delete(socket)
            following = @waiting[peer].shift
            @connections.delete(peer) if following.nil? && (@connections[peer] -= 1) < 1
            @waiting.delete(peer) if @waiting[peer].empty?
            following
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

          def add(stream, messages)
            return if messages.empty?

            @funnel.messages(stream, messages, patient: true)
            slow_down(allowance(stream.name)&.owe(messages.size).to_f)
          end

          # Above its limit a sender is not listened to for a while.
          def slow_down(seconds)
            ends = Process.clock_gettime(Process::CLOCK_MONOTONIC) + seconds
            while !@stopping && (left = ends - Process.clock_gettime(Process::CLOCK_MONOTONIC)).positive?
              sleep [left, 0.2].min
            end
          end

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
