# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      # Wrong tokens, by the address that they came from: who has sent many is not looked at for a while, so that tokens
      # cannot be tried one after another. Senders at the same address that were let in before still are.
      class Guesses
        PERIOD_SECONDS = 60
        # Wrong tokens within that time.
        MOST = 20
        # Addresses that are remembered, and tokens of each.
        ADDRESSES = 10_000
        TOKENS = 100

        def initialize
          @lock = Mutex.new
          @wrong = {}
          @right = {}
        end

        # @param digest [String] of a token
        # @return [Boolean] whether it is looked at
        def allowed?(address, digest)
          @lock.synchronize { @right[address]&.include?(digest) || count(address) < MOST }
        end

        def wrong(address)
          @lock.synchronize do
            @wrong.shift if @wrong.size >= ADDRESSES
            @wrong[address] = [count(address) + 1, @wrong.dig(address, 1) || now]
          end
        end

        def right(address, digest)
          @lock.synchronize do
            @right.shift if @right.size >= ADDRESSES && !@right.key?(address)
            known = @right[address] ||= Set.new
            known.clear if known.size >= TOKENS
            known << digest
          end
        end

        private

        def count(address)
          number, since = @wrong[address]
          return 0 if number.nil?
          return number if now - since < PERIOD_SECONDS

          @wrong.delete(address)
          0
        end

        def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
      end
    end
  end
end
