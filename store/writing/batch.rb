# frozen_string_literal: true

module Northdrift
  module Store
    # Packed events on their way to the {Writer}, a column at a time, which travels between processes several times
    # faster than an object for each event.
    class Batch
      # How numbers travel: what is below 2^31 is written as UTF-8 writes characters, in half the time.
      SMALL = Spans::NUMBERS
      LARGE = "q*"

      # @return [Array<Integer>] microseconds UTC
      attr_reader :times
      # @return [Array<Integer>] severity codes
      attr_reader :severities
      # @return [Array<Integer>] numbers of the kinds among those of the packer
      attr_reader :kinds
      # @return [Array<Integer>] numbers of the templates among those of the packer
      attr_reader :templates
      # @return [Array<Integer>] line numbers and byte offsets in the source
      attr_reader :lines, :offsets
      # @return [Array<String>] leading stamp, and the text after it
      attr_reader :heads, :bodies
      # @return [Array<String, nil>] values that do not stand in the text as they are
      attr_reader :extras
      # @return [Array<String>] places of message and fields, see {Spans.pack}
      attr_reader :spans
      # @return [Hash{Integer=>String}] by index: what to index instead of the body, where that will not do
      attr_reader :index_texts
      # @return [Hash{Integer=>Logbook::Happening}] by index
      attr_reader :happenings
      # @return [Hash{Integer=>true}] by index: those that an alert rule may be about
      attr_reader :watched
      # @return [Integer] bytes of text
      attr_reader :bytes

      def initialize
        @times = []
        @severities = []
        @kinds = []
        @templates = []
        @lines = []
        @offsets = []
        @heads = []
        @bodies = []
        @extras = []
        @spans = []
        @index_texts = {}
        @happenings = {}
        @watched = {}
        @bytes = 0
      end

      # @param happening [Logbook::Happening, nil] what the event tells that was added last
      def tell(happening) = happening && @happenings[@times.size - 1] = happening

      # The event that was added last is one that an alert rule may be about.
      def watch = @watched[@times.size - 1] = true

      # @return [Integer] events in it
      def size = @times.size

      # @return [Boolean]
      def empty? = @times.empty?

      def add(time_us:, severity:, kind:, template:, line:, offset:, head:, body:, extra:, spans:, index_text:)
        @index_texts[@times.size] = index_text if index_text
        @times << time_us
        @severities << severity
        @kinds << kind
        @templates << template
        @lines << line
        @offsets << offset
        @heads << head
        @bodies << body
        @extras << extra
        @spans << spans
        @bytes += head.bytesize + body.bytesize + 1
      end

      # @param indexes [Array<Integer>] ascending
      # @return [Batch] those events alone
      def only(indexes)
        one = Batch.new
        indexes.each do |index|
          one.add(
            time_us: @times[index], severity: @severities[index], kind: @kinds[index], template: @templates[index],
            line: @lines[index], offset: @offsets[index], head: @heads[index], body: @bodies[index],
            extra: @extras[index], spans: @spans[index], index_text: @index_texts[index]
          )
          one.tell(@happenings[index])
          one.watch if @watched[index]
        end
        one
      end

      # @param indexes [Array<Integer>]
      # @return [Batch] all other events
      def without(indexes) = only((0...size).to_a - indexes)

      # Numbers travel packed, texts joined: few objects, whatever the number of events.
      def marshal_dump
        [
          @times.pack(LARGE), @severities.pack("C*"), @kinds.pack(SMALL), @templates.pack(SMALL), @lines.pack(LARGE),
          @offsets.pack(LARGE), *joined(@heads), *joined(@bodies), *joined(@spans),
          @extras.each_with_index.filter_map { |extra, index| extra && [index, extra] }, @index_texts, @happenings,
          @watched, @bytes
        ]
      end

      def marshal_load(data)
        times,
        severities,
        kinds,
        templates,
        lines,
        offsets,
        head_sizes,
        heads,
        body_sizes,
        bodies,
        span_sizes,
        spans,
        extras,
        @index_texts,
        @happenings,
        @watched,
        @bytes =
          data
        @times = times.unpack(LARGE)
        @severities = severities.bytes
        @kinds = kinds.unpack(SMALL)
        @templates = templates.unpack(SMALL)
        @lines = lines.unpack(LARGE)
        @offsets = offsets.unpack(LARGE)
        @heads = cut(heads, head_sizes)
        @bodies = cut(bodies, body_sizes)
        @spans = cut(spans, span_sizes)
        @extras = []
        extras.each { |index, extra| @extras[index] = extra }
      end

      private

      def joined(texts) = [texts.map(&:bytesize).pack(SMALL), texts.join]

      # The memory of the joined text is given back at once.
      def cut(joined, sizes)
        joined.force_encoding(Encoding::BINARY)
        at = 0
        sizes.unpack(SMALL).map do |size|
          text = joined.byteslice(at, size)
          at += size
          text
        end.tap { joined.clear }
      end
    end
  end
end
