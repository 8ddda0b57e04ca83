# frozen_string_literal: true

require "io/wait"

module Northdrift
  module Server
    # Connections of pages that are told what is new: server-sent events (HTML Living Standard, section 9.2). One thread
    # tells all of them, so that an open page keeps no thread from answering.
    class EventStreams
      LOOK_SECONDS = 0.25
      # Telling takes no more than a third of the time: pages that ask wait for nobody.
      REST = 2
      # Who is gone without a word is noticed when something is said.
      HEARTBEAT_SECONDS = 5
      HEARTBEAT = ": still here\n\n"
      # Who was logged out hears nothing any more after so long.
      ASKED_SECONDS = 1
      # What a slow reader may leave unread, in bytes.
      BACKLOG = 4 << 20
      # Bytes that are written at once.
      PIECE = 16 << 10
      MOST = 1000

      # @return [EventStreams] that of this process
      def self.current = @current ||= new

      # A page.
      class Connection
        # @param io [IO]
        # @param topics [Array<#news>] with what is to be told now, see {Topics}
        # @param listener [Access::Who]
        def initialize(io, topics, listener)
          @io = io
          @topics = topics
          @listener = listener
          @asked = now
          @waiting = +"retry: 500\n\n"
          @said = now
        end

        # @param changed [Boolean] whether anything was written into the database since the last time
        # @return [Boolean] whether it is still there
        def tell(changed)
          return false if gone? || !allowed?

          news if changed || !@told
          @told = true
          @waiting << HEARTBEAT if @waiting.empty? && now - @said > HEARTBEAT_SECONDS
          send_on
          @waiting.bytesize <= BACKLOG
        rescue IOError, SystemCallError
          false
        end

        def close
          @io.close
        rescue IOError, SystemCallError
          nil
        end

        private

        def news = Store::Sight.within(@listener.sight) { @topics.each { |topic| @waiting << topic.news } }

        def gone? = @io.to_io.recv_nonblock(1, Socket::MSG_PEEK, exception: false) == ""

        def allowed?
          return true if now - @asked < ASKED_SECONDS

          @asked = now
          @listener.still?
        end

        # Where there is room for a piece: over TLS a write waits until all of it is taken.
        def send_on
          until @waiting.empty? || !@io.to_io.wait_writable(0)
            written = @io.write_nonblock(@waiting.byteslice(0, PIECE), exception: false)
            return unless written.is_a?(Integer)

            @said = now
            @waiting = @waiting.byteslice(written, @waiting.bytesize)
          end
        end

        def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
      end

      def initialize
        @connections = []
        @lock = Mutex.new
      end

      # @return [Boolean]
      def full? = @lock.synchronize { @connections.size >= MOST }

      # @param io [IO] of a connection that nobody else writes to any more
      # @param topics [Array<#news>]
      # @param listener [Access::Who]
      def add(io, topics, listener)
        @lock.synchronize do
          @connections << Connection.new(io, topics, listener)
          @thread = start unless @thread&.alive?
        end
      end

      private

      def start = Thread.new { run }.tap { |thread| thread.name = "event streams" }

      # What is written while some are being told is news of the next time for all.
      def run
        loop do
          began = now
          connections = @lock.synchronize { @connections.dup }
          tell(connections) unless connections.empty?
          sleep [LOOK_SECONDS, (now - began) * REST].max
        end
      end

      def tell(connections)
        version = look
        drop(connections.reject { |one| told?(one, version != @version) })
        @version = version
      end

      # @return [Integer, nil] see {Store::Database.version}; that of before where it cannot be asked now
      def look
        Store::Database.version
      rescue StandardError => error
        warn "northdrift: #{error.message.lines.first.to_s.strip}"
        @version
      end

      def told?(connection, changed)
        connection.tell(changed)
      rescue StandardError => error
        warn error.full_message(highlight: false)
        false
      end

      def drop(connections)
        return if connections.empty?

        @lock.synchronize { @connections -= connections }
        connections.each(&:close)
      end

      def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    end
  end
end
