# frozen_string_literal: true

module Northdrift
  module Server
    module Relay
      # Takes one relay's lines from the queue to where they go, at least once: the position moves on when they are
      # there.
      class Courier
        LOOK_SECONDS = 0.3
        # Time to the next attempt, doubled each time.
        AGAIN_SECONDS = (1..60)

        OUTLETS = {
          "tcp" => ->(given) { Outlets::Syslog.new(given, tls: false) },
          "tls" => ->(given) { Outlets::Syslog.new(given, tls: true) },
          "http" => ->(given) { Outlets::Http.new(given) }
        }.freeze

        # @param relay [Store::Relay]
        # @param again [Range<Numeric>] least and most seconds to the next attempt
        def initialize(relay, again: AGAIN_SECONDS)
          @relay = relay
          @again = again
          @outlet = OUTLETS.fetch(relay.kind).call(relay.given)
        end

        # @param stop [#call] returns true when it is time to end
        def run(stop:)
          step || wait(LOOK_SECONDS, stop) until stop.call || trouble?(stop)
        ensure
          @outlet.close
        end

        # Delivers the next lines.
        # @return [Boolean] whether there were any
        def step
          entry = Store::RelayQueue.after(@relay.position)
          return @outlet.settle && false if entry.nil?

          events = Store::RelayQueue.lines(entry)
          wanted = matcher ? events.select { |event| matcher.match?(event.subject) } : events
          refused = wanted.empty? ? 0 : @outlet.deliver(wanted)
          @relay.update!(
            position: entry.number, sent: @relay.sent + wanted.size - refused, refused: @relay.refused + refused,
            gone: @relay.gone + entry.ids.size - events.size, problem: nil
          )
          @pause = nil
          true
        rescue SystemCallError, IOError, OpenSSL::SSL::SSLError, SocketError, Timeout::Error, Error => error
          note(error)
          true
        end

        private

        # Patterns get new numbers over time, and so the condition is read again now and then by starting anew.
        def matcher
          @matcher ||=
            if @relay.find.strip.empty?
              nil
            else
              Find::Matcher.new(Find::Parser.parse(@relay.find, known: -> { Store::Kinds.current.field_names }))
            end
        end

        def note(error)
          @pause = @pause ? [@pause * 2, @again.end].min : @again.begin
          @pause = [@pause, error.seconds.clamp(0, @again.end)].max if error.is_a?(Outlets::Http::Busy) && error.seconds
          @relay.update!(problem: Text.display(error.message.lines.first.to_s.strip))
        end

        # @return [Boolean] always false: it has waited
        def trouble?(stop)
          wait(@pause, stop) if @pause
          false
        end

        def wait(seconds, stop)
          ends = Process.clock_gettime(Process::CLOCK_MONOTONIC) + seconds
          sleep 0.1 until stop.call || Process.clock_gettime(Process::CLOCK_MONOTONIC) > ends
        end
      end
    end
  end
end
