# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Server-sent events (HTML Living Standard, section 9.2): lines of a question as they come in.
      class Follow < Resource
        LOOK_SECONDS = 0.25
        LONGEST_SECONDS = 120

        get "/" do
          asked = question
          content_type "text/event-stream"
          headers "Cache-Control" => "no-store", "X-Accel-Buffering" => "no"
          stream { |out| tell(out, asked) }
        end

        private

        def tell(out, asked)
          ends = clock + LONGEST_SECONDS
          out << "retry: 500\n\n"
          version = Store::Database.version
          following = Store::Following.new(asked.spec, now_us)
          away = Store::IntakeRules.last_turned_away
          out << "event: ready\ndata: {}\n\n"
          until clock > ends || out.closed?
            now = Store::Database.version
            out << (now == version ? ": still here\n\n" : news(following.look(now_us)))
            away = turned_away(out, asked, away) unless now == version
            version = now
            sleep LOOK_SECONDS
          end
        ensure
          ActiveRecord::Base.connection_handler.clear_active_connections!
        end

        def news(fresh)
          return ": nothing of it\n\n" if fresh.events.empty?

          "event: lines\ndata: " \
            "#{json('lines' => fresh.events.map { |event| Present.line(event) }, 'skipped' => fresh.skipped)}\n\n"
        end

        # Lines that noise rules kept out are told too, as far as they are known and the question would have them.
        # @return [Integer] the last one that was looked at
        def turned_away(out, asked, since)
          lines = Store::IntakeRules.turned_away(since)
          return since if lines.empty?

          matcher = Find::Matcher.new(asked.tree)
          wanted = lines.select { |line| matcher.match?(line.subject) }.map { |line| Present.turned_away(line) }
          out << "event: turned-away\ndata: #{json('lines' => wanted)}\n\n" unless wanted.empty?
          lines.last.id
        end
      end
    end
  end
end
