# frozen_string_literal: true

module Northdrift
  module Reading
    # A record that is under way, and grows line by line. What has been looked at is not looked at again: a stranger's
    # record may have half a million lines.
    class Joint
      FEEDS = "\r\n".bytes.freeze

      # @return [Event]
      attr_reader :event

      # @param event [Event] of its first line
      def initialize(event)
        @event = event
        @grown = false
      end

      # @return [Integer]
      def bytesize = @event.raw.bytesize

      # @param text [String] the next line
      # @param ending [String] of that
      # @param joined [Boolean] whether the reader has taken from the line what it tells
      def append(text, ending, joined: false)
        joined ? @tail = nil : grow(text)
        own_raw << @event.ending << text
        @event.ending = ending
        @traces&.push(text)
      end

      # @param text [String]
      # @return [Boolean] whether it goes on with a stack trace or a block of the record
      def continues?(text)
        @traces ||= Traces::Seen.new(@event.raw)
        Traces.continues?(text, @traces)
      end

      # A run of empty lines belongs to no record's message, though it stands with its text.
      # @return [Event] when no more lines come
      def finish
        return @event unless @grown

        message = @event.message
        stop = message.bytesize
        stop -= 1 while stop.positive? && FEEDS.include?(message.getbyte(stop - 1))
        @event.message = message.byteslice(0, stop) if stop < message.bytesize
        @event
      end

      private

      def own_raw
        return @event.raw if @own

        @own = true
        @event.raw = @event.raw.dup
      end

      # The message grows too where it is the end of the record, or what its reader has taken from there; that of a head
      # begins.
      def grow(text)
        @grown = true
        return @tail = nil if Catalogue::HEADS[@event.reader]&.below(@event, text)
        return begin_message(text) if @event.message.empty?

        @tail = tail if @tail.nil?
        @tail << @event.ending << text if @tail
      end

      # @return [String, false] the value that ends the record, and may be changed
      def tail
        return @event.message = @event.message.dup if @event.raw.end_with?(@event.message)

        joining = Catalogue::JOINING[@event.reader]
        (joining.tail(@event) if joining.respond_to?(:tail)) || false
      end

      # Below a line that has a time alone.
      def begin_message(text)
        @tail = nil
        @event.message = text.dup
        return unless @event.severity == Severity::UNSET

        @event.severity, @event.severity_rule = SeverityWords.read(text)
      end
    end
  end
end
