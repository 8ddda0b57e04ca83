# frozen_string_literal: true

module Northdrift
  module Intake
    # How long this process may compute. The system ends it when it takes longer, whatever it is at: a loop in a library
    # cannot be interrupted otherwise.
    module ProcessorTime
      module_function

      # @return [Float] seconds that it has used
      def used = Process.clock_gettime(Process::CLOCK_PROCESS_CPUTIME_ID)

      # From now on it may use so much more; afterwards it gets the signal XCPU, which ends it.
      # @param seconds [Numeric] the system counts whole ones
      def allow(seconds)
        _, most = Process.getrlimit(Process::RLIMIT_CPU)
        Process.setrlimit(Process::RLIMIT_CPU, [(used + seconds).ceil, most].min, most)
      end
    end
  end
end
