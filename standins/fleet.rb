# frozen_string_literal: true

require "fileutils"

module Northdrift
  module Standins
    # The machines of Tarnholm Ferries, writing now: their ordinary day, as many times over as is asked for, and
    # incidents when they are called for. A simulated stand-in for real machines, over the real protocols.
    class Fleet
      NAME = "stand-in fleet"
      TICK_SECONDS = 0.2
      # Lines are made so far ahead.
      AHEAD_SECONDS = 300
      CALLS = "standins/calls"
      FOLDER = "standins/files"
      PORTS = %w[udp tcp tls snmp].freeze
      MOST_TIMES = 20
      SEED = 21

      # Calls for an incident; the fleet of that data folder begins it within a second.
      # @param dir [String] data folder
      # @raise [Error]
      def self.call_for(dir, name)
        Replay.lines(name, start: Store::Clock.now)
        FileUtils.mkdir_p(File.join(dir, CALLS))
        path = File.join(dir, CALLS, "#{Process.clock_gettime(Process::CLOCK_REALTIME, :nanosecond)}.call")
        File.write("#{path}.part", name)
        File.rename("#{path}.part", path)
      end

      # Makes the feeds that the fleet sends to, where they are not there yet. The database is open.
      # @param dir [String] data folder
      # @return [String] token of its sender
      def self.prepare(dir)
        Intake::Live::Inlets.set_up
        token = Intake::Live::FeedForm.token
        http = Store::Feed.present.find_or_initialize_by(name: NAME, kind: "http")
        http.update!(
          given: Intake::Live::FeedForm.check("http", {}).merge("token" => Intake::Live::Inlets::Http.digest(token)),
          created_us: http.created_us || micros
        )
        traps = Store::Feed.present.find_or_initialize_by(name: "#{NAME}, traps", kind: "snmp")
        traps.update!(given: Intake::Live::FeedForm.check("snmp", {}), created_us: traps.created_us || micros)
        files = Store::Feed.present.find_or_initialize_by(name: "#{NAME}, files", kind: "follow")
        files.update!(
          given:
            Intake::Live::FeedForm.check(
              "follow", { "paths" => File.join(File.expand_path(dir), FOLDER, "*", "*.log"), "machine" => "*" }
            ), created_us: files.created_us || micros
        )
        token
      end

      def self.micros = Store::Clock.now_us
      private_class_method :micros

      # @param dir [String] data folder
      # @param token [String]
      # @param times [Integer] of their ordinary volume
      def initialize(dir, token:, times: 1)
        @dir = dir
        @times = times.clamp(1, MOST_TIMES)
        ports = Store::Feed.present.where(kind: [*PORTS, "http"]).to_h { |feed| [feed.kind.to_sym, feed.given["port"]] }
        @sender = Sender.new(ports, token: token, folder: File.join(dir, FOLDER))
        @due = []
      end

      # Sends until told to stop.
      # @param stop [#call]
      def run(stop: -> { false })
        @made_to = Store::Clock.now
        until stop.call
          make_ahead
          answer_calls
          send_due
          sleep TICK_SECONDS
        end
      end

      private

      def make_ahead
        return if @made_to > Store::Clock.now + (AHEAD_SECONDS / 2)

        from = @made_to
        @made_to = Store::Clock.now + AHEAD_SECONDS
        @times.times do |index|
          world = Demo::World.new(now: @made_to, since: from, seed: SEED + index)
          @due.concat(world.timed)
        end
        @due.concat(Gauge.lines(from, @made_to)).concat(Ports.changes(from, @made_to))
        @due.sort_by!(&:first)
      end

      def answer_calls
        Dir[File.join(@dir, CALLS, "*.call")].each do |path|
          name = File.read(path)
          File.unlink(path)
          @due.concat(Replay.lines(name, start: Store::Clock.now)).sort_by!(&:first)
        end
      end

      def send_due
        now = Store::Clock.now
        @sender.send(*@due.shift.drop(1)) while @due.any? && @due.first[0] <= now
        @sender.flush
      end
    end
  end
end
