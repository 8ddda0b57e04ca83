# frozen_string_literal: true

require_relative "collecting"

module Northdrift
  # The whole application in processes of its own, as a person starts it.
  module Serving
    include Collecting

    # Once it answers, and all its processes are there.
    # @param options [Hash] see {Server::Launcher}
    def serve(**options)
      ActiveRecord::Base.connection_handler.clear_all_connections!
      @port = free_port
      @server =
        fork do
          $stderr.reopen(File::NULL)
          Server::Launcher.new(@data, port: @port, ready: ->(_) {}, **options).run
        ensure
          exit!(0) # told by a signal, it would go on as the tests do
        end
      listening(@port)
      eventually { counting.size == Store::Crew::SIZE * Server::Launcher::WORKERS }
    end

    def stop_serving
      @server && Process.kill(:KILL, *descendants(@server), @server) && Process.wait(@server)
      @server = nil
    rescue Errno::ESRCH, Errno::ECHILD
      nil
    end

    def counting = descendants(@server).select { |pid| title(pid) == "northdrift: counting" }
  end
end
