# frozen_string_literal: true

require "net/http"
require "socket"
require_relative "ports"
require_relative "waiting"

module Northdrift
  # A collector in processes of its own, with the feeds that a test sets up.
  module Collecting
    include Waiting

    # @return [Integer] a port that nobody listens on
    def free_port = Ports.take

    # @return [Store::Feed]
    def feed(kind, name: kind, token: nil, **values)
      given = Intake::Live::FeedForm.check(kind, values.transform_keys(&:to_s))
      given["token"] = Intake::Live::Inlets::Http.digest(token) if token
      Store::Feed.create!(name: name, kind: kind, given: given, created_us: Store::Clock.now_us)
    end

    def collect
      start_collecting
      Store::Database.open(@data)
    end

    def start_collecting
      ActiveRecord::Base.connection_handler.clear_all_connections!
      @collector =
        fork do
          Server::Supervisor.new(
            { "northdrift: collecting (test)" => Server::Supervisor.intake(@data)["northdrift: collecting"] }
          ).run && exit!(0)
        end
    end

    def stop_collecting
      return unless @collector

      Process.kill(:TERM, @collector)
      Process.wait(@collector)
      @collector = nil
    end

    def situation = "; feeds: #{Store::Feed.pluck(:kind, :problem)}"

    # @return [Hash{String=>Array<Integer>}] pids of the processes that this test started to collect, by their names
    def processes
      descendants(@collector).group_by { |pid| title(pid) }
    end

    # @return [Array<Integer>] a process's children, and theirs
    def descendants(pid)
      children = Dir.glob("/proc/#{pid}/task/*/children").flat_map { |path| File.read(path).split.map(&:to_i) }
      children + children.flat_map { |child| descendants(child) }
    rescue SystemCallError
      [] # it has ended meanwhile
    end

    def title(pid)
      File.read("/proc/#{pid}/cmdline").delete("\0").strip
    rescue SystemCallError
      nil
    end

    # @return [Array<String>] raw texts of so many lines, once they are there, and no more
    def come(count, find = "")
      eventually { found(find).size >= count }
      sleep 0.3 # what comes twice comes soon: this may miss it, and never tells of what is not there
      found(find).tap { |lines| assert_equal count, lines.size, lines.first(20).inspect }
    end

    def listening(port)
      eventually do
        TCPSocket.open("127.0.0.1", port, &:close) || true
      rescue SystemCallError
        nil
      end
    end
  end
end
