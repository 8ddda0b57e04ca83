# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Server-sent events (HTML Living Standard, section 9.2): lines of a question as they come in.
      class Follow < Resource
        LOOK_SECONDS = 0.25
        LONGEST_SECONDS = 120
        # Lines whose own time is further back than this are not shown as new: clocks and networks are not that slow.
        LATE_US = 600_000_000
        AHEAD_US = 86_400_000_000
        # More than a person can read in a moment are thinned.
        MOST = 200

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
          version = Store::Database.value("PRAGMA data_version")
          seen = recent(asked).to_set(&:id)
          since = seen.max || Store::EventId.first(now_us)
          away = Store::Database.value("SELECT coalesce(max(id), 0) FROM turned_away")
          out << "event: ready\ndata: {}\n\n"
          until clock > ends || out.closed?
            now = Store::Database.value("PRAGMA data_version")
            out << (now == version ? ": still here\n\n" : news(asked, seen, since).tap { since = [since, *seen].max })
            away = turned_away(out, asked, away) unless now == version
            version = now
            sleep LOOK_SECONDS
          end
        ensure
          ActiveRecord::Base.connection_handler.clear_active_connections!
        end

        # @return [Store::Question] its lines of late; made anew, since kinds may have come
        def recent(asked)
          at = now_us
          Store::Question.new(**asked.spec, from_us: at - LATE_US, to_us: at + AHEAD_US).page(last: true, limit: MOST).events
        end

        def news(asked, seen, since)
          fresh = recent(asked).reject { |event| seen.include?(event.id) }
          return ": nothing of it\n\n" if fresh.empty?

          skipped = fresh.size == MOST ? skipped(asked, since, fresh) : 0
          oldest = Store::EventId.first(now_us - LATE_US)
          seen.select! { |id| id > oldest }
          fresh.each { |event| seen << event.id }
          "event: lines\ndata: #{json('lines' => fresh.map { |event| Present.line(event) }, 'skipped' => skipped)}\n\n"
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

        # @return [Integer] lines that came since the last ones shown, and before those that are shown now
        def skipped(asked, since, fresh)
          Store::Question.new(**asked.spec, from_us: Store::EventId.micros(since) + 1, to_us: Store::EventId.micros(fresh.first.id)).total
        end
      end
    end
  end
end
