# frozen_string_literal: true

require "securerandom"

module Northdrift
  module Server
    module Sending
      # Tells the recipients of one route what is due. What fails is tried again, later each time.
      #
      # What goes together is written down before it is tried, under a name that it keeps: a message that was accepted
      # while this was killed is the same one when it comes again, and whoever receives it can tell.
      class Courier
        LOOK_SECONDS = 0.3
        FIRST_US = 5_000_000
        LONGEST_US = 900_000_000
        # So soon it is looked again whether there is room.
        HOLD_US = 30_000_000
        MOST = 100
        MOST_SAID = 300

        # @param route [Store::AlertRoute]
        # @param clock [#call] microseconds
        def initialize(route, clock: -> { Store::Clock.now_us })
          @kept = route
          @route = route.route
          @clock = clock
          @gathers = Outlets.gather_us(route.kind).positive?
        end

        # @param stop [#call] returns true when it is time to end
        def run(stop:)
          step(stop) || sleep(LOOK_SECONDS) until stop.call
        end

        # @return [Boolean] whether anything was due
        def step(stop = -> { false })
          due = waiting.where("due_us <= ?", @clock.call).order(:id).limit(MOST).to_a
          due = due.reject { |one| needless?(one) }
          groups = due.group_by(&:recipient).flat_map { |recipient, some| messages(recipient, some) }
          groups.each { |id, some| deliver(id, some) unless stop.call }
          groups.any?
        end

        private

        def waiting = Store::AlertDelivery.where(route_id: @kept.id).waiting

        # Somebody has it by now.
        def needless?(one)
          return false unless one.occasion == "left" && one.alert && one.alert.state != "open"

          one.update!(state: "not needed")
        end

        # @return [Array<Array(String, Array<Store::AlertDelivery>)>] what goes together, by name of the message
        def messages(recipient, some)
          known, fresh = some.partition(&:message)
          # All of a message: what was told of one that is tried again is what was to be told at first.
          groups = known.map(&:message).uniq.map { |id| [id, waiting.where(message: id).to_a] }
          return groups if fresh.empty? || digest_later?(recipient) || held?(recipient, fresh)

          together = @gathers || @route.digest_us
          parts = together ? fresh.group_by(&:occasion).values : fresh.zip
          groups + parts.map { |group| [name(group), group] }
        end

        def digest_later?(recipient)
          return false unless @route.digest_us

          oldest = waiting.where(recipient: recipient, message: nil).where.not(occasion: "test").minimum(:created_us)
          oldest && oldest + @route.digest_us > @clock.call
        end

        # More than so many an hour are too many: they are told in one when there is room again. Others do not wait for
        # them.
        def held?(recipient, fresh)
          return false if Store::AlertDelivery.within_hour(@kept.id, recipient, @clock.call) < @route.most

          Store::AlertDelivery.where(id: fresh.map(&:id)).update_all(
            problem: "held back: #{@route.most} messages went out within the hour", due_us: @clock.call + HOLD_US
          )
          true
        end

        def name(group)
          id = SecureRandom.uuid
          Store::AlertDelivery.where(id: group.map(&:id)).update_all(message: id)
          id
        end

        def deliver(id, some)
          outlet = Outlets.of(@kept.kind, @kept.given)
          message = Contents.message(id, some.first.occasion, alerts(some))
          return drop(some) if message.alerts.empty?

          outlet.send_off(message, @route.template, some.first.recipient)
          done(some, state: "sent", sent_us: @clock.call, problem: nil,
                     subject: @route.template.subject(message.to_h))
        rescue StandardError => error # whatever it is, the others go on, and it is told
          again(some, error)
        end

        # A test tells of the latest that there is.
        def alerts(some)
          return [Store::Alert.order(:id).last].compact if some.first.occasion == "test" && some.first.alert_id.nil?

          Store::Alert.where(id: some.map(&:alert_id)).to_a
        end

        # Their alert is not there any more: late lines made it one with another.
        def drop(some) = done(some, state: "not needed")

        def again(some, error)
          attempts = some.first.attempts + 1
          now_us = @clock.call
          given_up = now_us - some.map(&:created_us).min > Store::AlertDelivery::GIVEN_UP_US
          done(
            some, attempts: attempts, problem: Text.line(error.message.lines.first.to_s.strip)[0, MOST_SAID],
                  state: given_up ? "given up" : "waiting",
                  due_us: now_us + [FIRST_US * (2**[attempts - 1, 20].min), LONGEST_US].min
          )
        end

        def done(some, **values) = Store::AlertDelivery.where(id: some.map(&:id)).update_all(values)
      end
    end
  end
end
