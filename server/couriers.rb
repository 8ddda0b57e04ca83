# frozen_string_literal: true

module Northdrift
  module Server
    # Keeps a courier going, in a thread of its own, for each thing that one is wanted for. One that ends is started
    # anew.
    class Couriers
      JOIN_SECONDS = 5

      # @param name [String] for what it says when one fails
      # @yield [thing] which makes a courier, with `run(stop:)`
      # @yieldparam thing [#id, #state] whose state tells whether anything changed that it runs by
      def initialize(name, &make)
        @name = name
        @make = make
        @running = {}
      end

      # Starts those that are wanted, and ends those that changed or are not wanted any more.
      # @param things [Enumerable<#id, #state>]
      # @param stop [#call] returns true when it is time to end
      def arrange(things, stop)
        wanted = things.index_by(&:state)
        @running.delete_if { |state, courier| !courier.alive? || (!wanted.key?(state) && (courier[:ends] = true)) }
        wanted.each { |state, thing| @running[state] ||= start(thing, stop) }
      end

      # Has all end.
      def leave
        @running.each_value { |courier| courier[:ends] = true }.each_value { |courier| courier.join(JOIN_SECONDS) }
      end

      private

      def start(thing, stop)
        Thread.new do
          courier = Thread.current
          @make.call(thing).run(stop: -> { stop.call || courier[:ends] })
        rescue StandardError => error
          warn "northdrift: #{@name} #{thing.id}: #{error.message.lines.first.to_s.strip}"
        ensure
          ActiveRecord::Base.connection_handler.clear_active_connections!
        end
      end
    end
  end
end
