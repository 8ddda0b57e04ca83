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
      return unless @server

      # From the top down, so that nobody starts them anew.
      [@server, *descendants(@server)].each { |pid| kill(pid) }
      Process.wait(@server)
    rescue Errno::ECHILD
      nil # a test has waited for it
    ensure
      @server = nil
    end

    # It may have ended by itself, and the others are to end all the same.
    def kill(pid)
      Process.kill(:KILL, pid)
    rescue Errno::ESRCH
      nil
    end

    def counting = descendants(@server).select { |pid| title(pid) == "northdrift: counting" }
  end
end
