# frozen_string_literal: true

require "net/http"
require "socket"

module Northdrift
  # A collector in processes of its own, with the feeds that a test sets up.
  module Collecting
    # @return [Integer] a port that nobody listens on
    def free_port = TCPServer.open("127.0.0.1", 0) { |server| server.addr[1] }

    # @return [Store::Feed]
    def feed(kind, name: kind, token: nil, **values)
      given = Intake::Live::FeedForm.check(kind, values.transform_keys(&:to_s))
      given["token"] = Intake::Live::Inlets::Http.digest(token) if token
      Store::Feed.create!(name: name, kind: kind, given: given, created_us: micros(Time.now))
    end

    def collect
      start_collecting
      Store::Database.open(@data)
    end

    def start_collecting
      ActiveRecord::Base.connection_handler.clear_all_connections!
      @collector = fork { Server::Supervisor.new({ "northdrift: collecting (test)" => Server::Supervisor.intake(@data)["northdrift: collecting"] }).run && exit!(0) }
    end

    def stop_collecting
      return unless @collector

      Process.kill(:TERM, @collector)
      Process.wait(@collector)
      @collector = nil
    end

    # @yieldreturn [Object] what is waited for, when it is so
    def eventually(seconds: 60)
      ends = Process.clock_gettime(Process::CLOCK_MONOTONIC) + seconds
      until (found = yield)
        flunk "it did not come so in #{seconds} s; feeds: #{Store::Feed.pluck(:kind, :problem)}" if Process.clock_gettime(Process::CLOCK_MONOTONIC) > ends
        sleep 0.05
      end
      found
    end

    # @return [Array<String>] raw texts of so many lines, once they are there, and no more
    def come(count, find = "")
      eventually { found(find).size >= count }
      sleep 0.3
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
