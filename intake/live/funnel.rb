# frozen_string_literal: true

require "monitor"

module Northdrift
  module Intake
    module Live
      # Collects what all receivers take in and hands it on in bundles. It holds so much and no more: who puts something
      # in waits until there is room, so that senders are slowed down by their own protocols.
      class Funnel
        # Bytes that may be on their way into the database.
        BUDGET = 24 << 20
        # Of them, those of senders that are slowed down: more would wait here instead of there, and be told late. What
        # cannot be slowed down, such as datagrams, needs the rest for what comes at once.
        PATIENT_BUDGET = 3 << 20
        # A bundle is handed on when it has so many bytes, or after so long.
        BUNDLE_BYTES = 1 << 20
        FLUSH_SECONDS = 0.05
        # What one message takes beside its text.
        OVERHEAD = 64

        # Tells when something is in the database.
        class Ticket
          # @return [String, nil] name of the delivery
          attr_reader :delivery

          def initialize(delivery = nil)
            @delivery = delivery
            @lock = Monitor.new
            @settled = @lock.new_cond
          end

          # @param outcome [Object] not nil
          def settle(outcome)
            @lock.synchronize do
              @outcome = outcome
              @settled.broadcast
            end
          end

          # @return [Object, nil] what came of it; nil when it took longer
          def wait(seconds)
            ends = now + seconds
            @lock.synchronize do
              # Who waits may be woken for no reason.
              while @outcome.nil? && (left = ends - now).positive?
                @settled.wait(left)
              end
              @outcome
            end
          end

          private

          def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        end

        Full = Class.new(Error)

        # @param clock [#call] microseconds
        # @param trouble [#call] told what went wrong when a bundle could not be handed on; it stays, and is tried again
        # @yieldparam bundle [Bundle] to be handed on; {#settled} is to be called for each, in their order
        def initialize(clock: -> { Store::Clock.now_us }, trouble: ->(error) { warn "northdrift: #{error.message}" },
                       &deliver)
          @clock = clock
          @trouble = trouble
          @deliver = deliver
          @lock = Monitor.new
          @room = @lock.new_cond
          @work = @lock.new_cond
          @groups = {}
          @bytes = 0
          @tickets = []
          @under_way = []
          @deliveries = {}
          @held = 0
          @patient = 0
          @patient_held = 0
        end

        # Takes a delivery in, unless it is on its way already: who sends it again waits for the same to come in.
        # @param delivery [String, nil]
        # @yieldparam ticket [Ticket] told when it is in the database
        # @return [Ticket]
        # @raise [Full] as {#messages}
        def once(delivery)
          @lock.synchronize do
            known = @deliveries[delivery]
            next known if known

            ticket = Ticket.new(delivery)
            yield ticket
            @deliveries[delivery] = ticket if delivery
            flush
            ticket
          end
        end

        # Adds whole messages of a sender.
        # @param messages [Array<String>]
        # @param delivery [String, nil]
        # @param ticket [Ticket, nil] told when they are in the database
        # @param wait [Boolean] whether to wait for room
        # @param patient [Boolean] whether the sender waits, too
        # @raise [Full] when there is no room and it does not wait
        def messages(stream, messages, delivery: nil, ticket: nil, wait: true, patient: false)
          bytes = messages.sum(&:bytesize) + (messages.size * OVERHEAD)
          add([stream.number, delivery], bytes, ticket, wait: wait, patient: patient) do |group|
            group ||= Group.new(stream: stream, text: "".b, sizes: [], received_us: @clock.call, delivery: delivery)
            messages.each do |message|
              group.text << message
              group.sizes << message.bytesize
            end
            group
          end
        end

        # Adds lines of a file or a command, which are joined to records.
        # @param text [String] whole records
        # @param place [Place, nil]
        def text(stream, text, place: nil, delivery: nil, ticket: nil, wait: true, patient: false)
          add(Object.new, text.bytesize, ticket, wait: wait, patient: patient) do
            Group.new(stream: stream, text: text, place: place, received_us: @clock.call, delivery: delivery)
          end
        end

        # The oldest bundle is in the database.
        # @param outcome [Object] told to those who wait
        def settled(outcome)
          @lock.synchronize do
            bytes, patient, tickets = @under_way.shift
            @held -= bytes
            @patient_held -= patient
            @room.broadcast
            tickets.each { |ticket| @deliveries.delete(ticket.delivery) }
          end.each { |ticket| ticket.settle(outcome) }
        end

        # Waits until all that is in it by now is in the database.
        # @param seconds [Numeric] at most
        # @return [Object, nil] nil when it took longer
        def settle(seconds)
          ticket = Ticket.new
          @lock.synchronize do
            flush
            return true if @under_way.empty?

            @under_way.last.last << ticket
          end
          ticket.wait(seconds)
        end

        # @return [Boolean] whether it holds as much as it may
        def full? = @lock.synchronize { @held >= BUDGET }

        # Hands on what has come in, over and over.
        def run
          loop do
            sleep FLUSH_SECONDS
            flush
          end
        end

        # Hands on what has come in. What could not be handed on is still there: it goes first the next time, and what
        # comes of a later bundle is not taken for what came of it.
        def flush
          @lock.synchronize do
            next if @groups.empty?

            @deliver.call(Bundle.new(@groups.values))
            @under_way << [@bytes, @patient, @tickets]
            @groups = {}
            @bytes = @patient = 0
            @tickets = []
          end
        rescue StandardError => error
          @trouble.call(error)
        end

        private

        def add(key, bytes, ticket, wait:, patient:)
          @lock.synchronize do
            while @held >= BUDGET || (patient && @patient_held >= PATIENT_BUDGET)
              raise Full, "as much as can be held is waiting to be written" unless wait

              @room.wait
            end
            @groups[key] = yield(@groups[key])
            count(bytes, patient)
            @tickets << ticket if ticket
            flush if @bytes >= BUNDLE_BYTES
          end
        end

        def count(bytes, patient)
          @bytes += bytes
          @held += bytes
          return unless patient

          @patient += bytes
          @patient_held += bytes
        end
      end
    end
  end
end
