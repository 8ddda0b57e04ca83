# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Server-sent events (HTML Living Standard, section 9.2): tells open pages when lines have come in or an upload
      # has moved on.
      class News < Resource
        LOOK_SECONDS = 0.5
        # A connection is ended and made anew by the browser, so that a page that is gone holds no thread for long.
        LONGEST_SECONDS = 120

        get "/" do
          content_type "text/event-stream"
          headers "Cache-Control" => "no-store", "X-Accel-Buffering" => "no"
          stream { |out| tell(out) }
        end

        private

        def tell(out)
          ends = Process.clock_gettime(Process::CLOCK_MONOTONIC) + LONGEST_SECONDS
          last = nil
          out << "retry: 1000\n\n"
          until Process.clock_gettime(Process::CLOCK_MONOTONIC) > ends || out.closed?
            now = Store::News.now
            out << (now == last ? ": still here\n\n" : "event: change\ndata: #{json('lines' => now.lines)}\n\n")
            last = now
            sleep LOOK_SECONDS
          end
        ensure
          ActiveRecord::Base.connection_handler.clear_active_connections!
        end
      end
    end
  end
end
