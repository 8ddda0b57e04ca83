# frozen_string_literal: true

module Northdrift
  module Intake
    # Cuts a stream into segments that can be read apart from each other: a cut lies before a line that starts a record
    # whatever stands before it. Where no such line is found in time, the segment goes on in the next.
    class Segments
      CHUNK = 1 << 18
      SIZE = 3 << 19
      # How far behind the wanted size a cut is looked for.
      REACH = 1 << 18

      # @!attribute bytes [String]
      # @!attribute offset [Integer] of its first byte in the stream
      # @!attribute header [String, nil] the line before it that names the columns
      # @!attribute goes_on [Boolean] whether the next segment cannot be read without this one
      # @!attribute date_order [String, nil] which number of a date is its day, see {Reading::DateOrder}
      Segment = Struct.new(:bytes, :offset, :goes_on, :header, :date_order)

      # @param input [#read]
      # @param offset [Integer] bytes before the first
      # @param context [Reading::Context] for telling where records start
      # @param header [String, nil] the line among those before that names the columns
      # @param start [String] the first of the bytes before
      def initialize(input, context, offset: 0, header: nil, start: "")
        @start = start
        @header = header
        @input = input
        @context = context
        @offset = offset
      end

      # @yieldparam segment [Segment] the last one does not go on
      # @raise what reading the input raises, after what was read before was handed out
      def each
        buffer = "".b
        while (chunk = read)
          buffer << chunk
          next if buffer.bytesize < SIZE + REACH

          cut = cut(buffer)
          yield take(buffer, cut || SIZE, cut.nil?)
        end
        yield take(buffer, buffer.bytesize, false)
        raise @failure if @failure
      end

      # @return [String, nil] how dates are read that can be read in two ways, where nothing among them tells which
      def date_order_in_doubt
        decision = @date_order&.first
        decision.order if decision && !decision.certain
      end

      private

      def read
        @input.read(CHUNK)
      rescue Error, Zlib::Error, Zip::Error, SystemCallError, EOFError => error
        @failure = error
        nil
      end

      def take(buffer, size, goes_on)
        bytes = buffer.slice!(0, size)
        segment = Segment.new(bytes, @offset, goes_on, @header, date_order(bytes))
        @header = Reading::Header.last(segment.bytes, first: @offset.zero?) || @header
        @offset += size
        segment
      end

      # The start of a stream decides for all of it.
      def date_order(bytes)
        @date_order ||= [Reading::DateOrder.of(@start.empty? ? bytes : @start, @context.clock)]
        @date_order.first&.order
      end

      # @return [Integer, nil] where a record surely starts
      def cut(buffer) = Reading::Openings.after(buffer, SIZE, @context)
    end
  end
end
