# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      # The receiving process: runs the ways in of all feeds, and hands what comes in to the collector, which says when
      # it is in the database. It writes no events, so that a long transaction never keeps it from its sockets.
      class Receiver
        LOOK_SECONDS = 0.5
        AGAIN_SECONDS = 1

        # @param dir [String] data folder
        # @param spool [String] folder for bundles
        # @param bundles [IO] gets the path of each bundle
        # @param settled [IO] gives a line for each bundle that is in the database, in their order
        def initialize(dir, spool, bundles, settled)
          @spool = spool
          @bundles = bundles
          @settled = settled
          @office = Office.new(dir)
          @notice = Notice.new(dir, :receiver)
          @files = 0
          @funnel = Funnel.new(trouble: ->(error) { trouble(error) }) { |bundle| hand_on(bundle) }
          @inlets = {}
        end

        # Runs until the collector is gone or it is told to stop.
        # @param stop [#call]
        def run(stop: -> { false })
          @stop = stop
          Thread.new { @funnel.run }.report_on_exception = false
          answers = Thread.new { answer while (@line = @settled.gets(chomp: true)) }
          @notice.tell(nil)
          noted = 0
          until stop.call || @gone || !answers.alive?
            look
            now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
            if now - noted > Office::NOTE_SECONDS
              @office.note
              noted = now
            end
            sleep LOOK_SECONDS
          end
          # Without a collector nothing that is left can be acknowledged; its successor starts anew.
          return if @gone || !answers.alive?

          @inlets.each_value { |_, inlet| inlet.stop }
          @funnel.flush
        end

        private

        # Starts, stops and changes what people have started, stopped and changed.
        def look
          @rules = Bundle.pack(Store::IntakeRules.definition(Store::Clock.now_us))
          feeds = Store::Feed.present.where(paused: false).index_by(&:id)
          @inlets.each do |id, (state, inlet)|
            next if feeds[id] && feeds[id].state == state

            inlet.stop
            @inlets.delete(id)
          end
          feeds.each do |id, feed|
            @inlets[id] ||= [feed.state, Inlets::KINDS.fetch(feed.kind).new(feed, @funnel, @office).start]
          end
        rescue ActiveRecord::StatementInvalid, SQLite3::Exception
          nil # looked at again soon
        end

        def hand_on(bundle)
          @files += 1
          bundle.rules = @rules
          path = put(File.join(@spool, @files.to_s), bundle)
          @bundles.puts("#{bundle.bytesize} #{path}")
        rescue Errno::EPIPE, Errno::ENOENT
          @gone = true
          raise ReadingProcess::Lost, "the collector is gone; its successor starts another"
        end

        def trouble(error)
          warn "northdrift: #{error.message}" unless @gone
        end

        # Whatever keeps it from being written, senders wait until it can be.
        def put(path, bundle)
          ReadingProcess.put(path, bundle)
          @notice.tell(nil) if @waited
          @waited = false
          path
        rescue Errno::ENOENT
          raise # the folder goes with its collector
        rescue SystemCallError => error
          raise if @stop&.call # what was not acknowledged is its senders'

          @notice.unwritten(error.message)
          @waited = true
          sleep AGAIN_SECONDS
          retry
        end

        def answer = @funnel.settled(@line == "written" ? :written : @line)
      end
    end
  end
end
