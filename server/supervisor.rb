# frozen_string_literal: true

module Northdrift
  module Server
    # Keeps processes running: one that ends is started anew. It ends with its parent, however that ends, and they with
    # it.
    class Supervisor
      LOOK_SECONDS = 0.2
      AGAIN_SECONDS = 1

      # @param dir [String] data folder
      # @return [Hash{String=>#call}] what takes lines in, keeps them and sends them on, by the name of the process;
      #   called with what tells when to stop
      def self.intake(dir)
        { "northdrift: uploads" => lambda { |stop|
          Store::Database.open(dir)
          Intake::Jobs.new(dir).run(stop: stop)
        },
          "northdrift: upkeep" => lambda { |stop|
            Store::Database.open(dir)
            Intake::Upkeep.new(stop: stop).run
          },
          "northdrift: watching" => lambda { |stop|
            Store::Database.open(dir)
            Intake::Watcher.new(stop: stop).run
          },
          "northdrift: telling" => lambda { |stop|
            Store::Database.open(dir)
            Sending::Office.new.run(stop: stop)
          },
          "northdrift: relaying" => lambda { |stop|
            Store::Database.open(dir)
            Relay::Office.new.run(stop: stop)
          },
          "northdrift: collecting" => ->(stop) { Intake::Live::Collector.new(dir).run(stop: stop) } }
      end

      # @param tasks [Hash{String=>#call}]
      # @param grace [Numeric] seconds that they have to end
      def initialize(tasks, grace: Children::GRACE_SECONDS)
        @tasks = tasks
        @grace = grace
        @running = {}
        @parent = Process.ppid
      end

      # Returns once it was told to stop and all have ended.
      def run
        Process.setproctitle("northdrift: intake")
        %w[TERM INT].each { |signal| trap(signal) { @stopping = true } }
        until @stopping || Process.ppid != @parent
          @tasks.each { |name, task| @running[name] ||= start(name, task) }
          sleep LOOK_SECONDS
          ended = @running.reject { |_, pid| Process.wait(pid, Process::WNOHANG).nil? }
          next if ended.empty?

          @running.reject! { |name, _| ended.key?(name) }
          sleep AGAIN_SECONDS unless @stopping
        end
      ensure
        Children.stop(@running, grace: @grace)
      end

      private

      def start(name, task)
        supervisor = Process.pid
        fork do
          Process.setproctitle(name)
          stopping = false
          %w[TERM INT].each { |signal| trap(signal) { stopping = true } }
          task.call(-> { stopping || Process.ppid != supervisor })
          exit!(0)
        rescue StandardError => error
          warn "#{name}: #{error.message.lines.first.to_s.strip}; it is started again"
          exit!(1)
        end
      end
    end
  end
end
