# frozen_string_literal: true

require "socket"

module Northdrift
  module Intake
    module Live
      # A way in: takes lines in for one feed, in threads of its own, until it is stopped. What stands in its way is
      # told, and tried again.
      class Inlet
        AGAIN_SECONDS = 2
        STOP_SECONDS = 4
        # Senders that are told apart; more go by the name of the feed.
        MOST_STREAMS = 2000

        # @param feed [Store::Feed]
        # @param funnel [Funnel]
        # @param office [Office] where problems and losses are told
        def initialize(feed, funnel, office)
          @feed = feed
          @given = feed.given
          @funnel = funnel
          @office = office
          @streams = {}
          @threads = []
          @lock = Mutex.new
        end

        # Begins; returns at once.
        # @return [self]
        def start
          @thread = thread { keep_running }
          self
        end

        # Ends it and waits until it has ended.
        def stop
          @stopping = true
          close
          all = @lock.synchronize { [@thread, *@threads].compact }
          all.each { |thread| thread.join(STOP_SECONDS) || thread.kill }
        end

        private

        # Takes lines in until it is stopped or fails; defined by each kind.
        def run = raise(NotImplementedError)

        # Lets go of what keeps `run` waiting.
        def close = @server&.close

        def keep_running
          until @stopping
            begin
              run
            rescue IOError, SystemCallError, SocketError, OpenSSL::SSL::SSLError, Error => error
              break if @stopping

              @office.problem(@feed, told(error))
              pause
            rescue StandardError => error
              break if @stopping

              warn error.full_message(highlight: false)
              @office.problem(@feed, "stopped by a fault, and tried again: #{told(error)}")
              pause
            end
          end
        end

        # @param peer [String]
        # @return [Allowance, nil] that of a sender; nil where none is set
        def allowance(peer)
          return unless @given["limit"]

          @lock.synchronize do
            @allowances ||= {}
            @allowances.shift if @allowances.size > MOST_STREAMS
            @allowances[peer] ||= Allowance.new(@given["limit"])
          end
        end

        def pause = (AGAIN_SECONDS * 10).times { @stopping || sleep(0.1) }

        def told(error)
          return "#{@given['address']}:#{@given['port']} is in use by another program" if error.is_a?(Errno::EADDRINUSE)
          if error.is_a?(Errno::EACCES) && @given["port"].to_i < 1024
            return "port #{@given['port']} may be used by root alone"
          end

          error.message.lines.first.to_s.strip.sub(/ - bind.*/, "")
        end

        def thread
          Thread.new do
            yield
          rescue StandardError => error
            next if @stopping

            warn error.full_message(highlight: false)
            @office.problem(@feed, "stopped by a fault: #{told(error)}")
          ensure
            ActiveRecord::Base.connection_handler.clear_active_connections!
          end.tap { |thread| thread.report_on_exception = false }
        end

        # @param peer [String] what tells senders apart
        # @return [Stream]
        def stream(peer, machine: @given["machine"])
          @lock.synchronize do
            place = Origin.of_sender(peer == @feed.name ? nil : peer)
            peer, place = "others" if !@streams.key?(peer) && @streams.size >= MOST_STREAMS
            @streams[peer] ||= @office.stream(
              @feed,
              name: peer == @feed.name ? peer : "#{@feed.name} #{peer}", machine: machine.to_s.empty? ? nil : machine,
              place: place, zone: @given["zone"] || "UTC"
            )
          end
        end
      end
    end
  end
end
