# frozen_string_literal: true

module Northdrift
  module Intake
    # Garbage collection between batches instead of within them: a batch's objects all die together, and looking for
    # the dead while most are in use costs a quarter of the time.
    module Collection
      FULL_EVERY = 8

      module_function

      # Runs the block without collecting, then collects once.
      def after
        was_disabled = GC.disable
        yield
      ensure
        GC.enable unless was_disabled
        @count = (@count || 0) + 1
        GC.start(full_mark: (@count % FULL_EVERY).zero?, immediate_sweep: false)
        GC.disable if was_disabled
      end
    end
  end
end
