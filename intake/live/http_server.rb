# frozen_string_literal: true

require "puma"
require "puma/server"
require "puma/log_writer"

module Northdrift
  module Intake
    module Live
      # Listens for lines by HTTP on one address, for all feeds that have tokens there.
      class HttpServer
        THREADS = 12
        # A client that is slow to say what it wants is let go (seconds).
        PATIENCE = 15
        # Bodies above this are refused while they come in; a little above what is taken, so that most are told why.
        MOST_BODY = 2 * HttpApp::MOST_SENT

        def initialize(address, port)
          @inlets = {}
          @lock = Mutex.new
          options = {
            log_writer: Puma::LogWriter.null, min_threads: 1, max_threads: THREADS, first_data_timeout: PATIENCE,
            persistent_timeout: PATIENCE, queue_requests: true, http_content_length_limit: MOST_BODY,
            raise_exception_on_sigterm: false
          }
          @server = Puma::Server.new(HttpApp.new(method(:inlet)), Puma::Events.new, options)
          @server.add_tcp_listener(address, port)
          @server.run
        end

        # @param digest [String] see {Inlets::Http.digest}
        def admit(digest, inlet) = @lock.synchronize { @inlets[digest] = inlet }

        def dismiss(digest) = @lock.synchronize { @inlets.delete(digest) }

        def stop = @server.stop(true)

        private

        def inlet(digest) = @lock.synchronize { @inlets[digest] }
      end
    end
  end
end
