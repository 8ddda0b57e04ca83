# frozen_string_literal: true

module Northdrift
  module Store
    # The row id of an event carries its time and severity, so that a time window is a range of ids, also inside the
    # full-text index, and paging in order of time walks the primary key:
    #
    #     milliseconds since 1970 (43 bits) · sequence within the millisecond (7) · severity (4)
    #
    # The sequence keeps the order of the file among lines of one stamp. The row has what the id lacks of the exact time
    # (`shift`, microseconds to add); where a millisecond is full, the event takes a place in a later one and its shift
    # is negative. Steps of a millisecond rather than of a microsecond save a fifth of the full-text index, which stores
    # the differences between ids.
    module EventId
      SEVERITY_BITS = 4
      TIME_BITS = 11
      SEQUENCES = 1 << (TIME_BITS - SEVERITY_BITS)
      SEVERITY_MASK = (1 << SEVERITY_BITS) - 1
      MILLISECOND = 1000

      module_function

      # @param millis [Integer] milliseconds since 1970
      # @return [Integer]
      def pack(millis, sequence, severity) = (millis << TIME_BITS) | (sequence << SEVERITY_BITS) | severity

      # @return [Integer] the first id that a time in microseconds can have
      def first(micros) = -(-micros / MILLISECOND) << TIME_BITS

      def millis(id) = id >> TIME_BITS
      def micros(id) = (id >> TIME_BITS) * MILLISECOND
      def sequence(id) = (id >> SEVERITY_BITS) & (SEQUENCES - 1)
      def severity(id) = id & SEVERITY_MASK
    end
  end
end
