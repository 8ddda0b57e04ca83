# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      # Whether there is room for what comes in. Where it becomes scarce, writing is slowed, so that senders are too and
      # people have time; a last piece is left alone, since taking old lines out needs room as well.
      class Room
        LOOK_SECONDS = 5
        # Scarce below this, or below that share of the disk, whichever is less; and so for the last piece.
        SCARCE = [512 << 20, 0.05].freeze
        LAST = [64 << 20, 0.01].freeze
        PAUSE_SECONDS = 0.25

        # @param dir [String] data folder
        # @param look [#call] gives the disk of a folder
        def initialize(dir, look: Store::Disk.method(:of))
          @dir = dir
          @look = look
          @looked = -LOOK_SECONDS
        end

        # @return [String, nil] what to say when writing is to be slowed
        def scarce
          below?(SCARCE) ? "The disk is nearly full: #{@disk.free / 1_000_000} MB are free. Intake is slowed." : nil
        end

        # @raise [Errno::ENOSPC] when nothing more is to be written
        def check
          return unless below?(LAST)

          raise Errno::ENOSPC, "#{@disk.free / 1_000_000} MB are left, and are kept for taking old lines out"
        end

        # Gives senders less to do.
        def pause = sleep(PAUSE_SECONDS)

        private

        def below?((bytes, share))
          disk = looked
          !disk.nil? && disk.free < [bytes, disk.size * share].min
        end

        def looked
          now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
          return @disk if now - @looked < LOOK_SECONDS

          @looked = now
          @disk = @look.call(@dir)
        end
      end
    end
  end
end
