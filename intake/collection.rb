# frozen_string_literal: true

module Northdrift
  module Intake
    # Garbage collection between batches instead of within them: a batch's objects all die together, and looking for
    # the dead while most are in use costs a quarter of the time.
    module Collection
      FULL_EVERY = 8
      # Small batches are collected together, so many bytes of text at a time.
      EVERY = 1 << 22

      module_function

      # Runs the block without collecting, then collects once.
      # @param bytes [Integer] of text in the batch
      def after(bytes = EVERY)
        was_disabled = GC.disable
        yield
      ensure
        GC.enable unless was_disabled
        @bytes = (@bytes || 0) + bytes
        collect if @bytes >= EVERY
        GC.disable if was_disabled
      end

      def collect
        @bytes = 0
        @count = (@count || 0) + 1
        GC.enable
        GC.start(full_mark: (@count % FULL_EVERY).zero?, immediate_sweep: false)
      end
      private_class_method :collect
    end
  end
end
