# frozen_string_literal: true

module Northdrift
  # What a reading process makes of lines, looked at where it is packed for the database.
  module Packing
    # @yieldparam packer [Store::Packer]
    # @return [Array<Event>] that were packed
    def packed
      events = []
      packer = Store::Packer.new
      packer.define_singleton_method(:add) { |event, batch| super(event, batch).tap { events << event } }
      yield packer
      events
    end

    # @return [Intake::SegmentReader::Task]
    def segment(bytes, offset: 0, start: true, goes_on: false, rules: {}, header: nil)
      Intake::SegmentReader::Task.new(
        bytes.b, offset, start, goes_on, "UTC", micros(Helpers::NOW), nil, "x", rules, header
      )
    end
  end
end
