# frozen_string_literal: true

module Northdrift
  module Server
    # Ends processes that this one started.
    module Children
      # So long an orderly end may take: what was taken in is written before.
      GRACE_SECONDS = 15
      LOOK_SECONDS = 0.05

      module_function

      # Tells all of them to end, and waits; what hangs is ended without being asked.
      # @param pids [Hash{String=>Integer}] by the names of the processes
      # @param grace [Numeric] seconds
      def stop(pids, grace: GRACE_SECONDS)
        left = pids.reject { |_, pid| signal(:TERM, pid).nil? }
        ends = now + grace
        until (left = left.reject { |_, pid| ended?(pid) }).empty? || now > ends
          sleep LOOK_SECONDS
        end
        left.each do |name, pid|
          warn "#{name} did not end within #{grace} s and was killed; what it had acknowledged is kept"
          signal(:KILL, pid) && Process.wait(pid)
        end
      end

      # @return [Integer, nil] nil where there is no such process any more
      def signal(name, pid)
        Process.kill(name, pid)
      rescue Errno::ESRCH
        nil
      end

      def ended?(pid)
        !Process.wait(pid, Process::WNOHANG).nil?
      rescue Errno::ECHILD
        true
      end
      private_class_method :ended?

      def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
      private_class_method :now
    end
  end
end
