# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      # What came in within a moment, from all senders, on its way to a reading process.
      # @!attribute groups [Array<Group>]
      Bundle = Struct.new(:groups) do
        # @return [Integer] bytes of text in it
        def bytesize = groups.sum { |group| group.text.bytesize }
      end

      # Where lines come from: a sender of a listener, a followed file, a command.
      # @!attribute number [Integer] of the stream, as long as the receiving process lives
      # @!attribute feed_id [Integer]
      # @!attribute name [String] as people see it
      # @!attribute machine [String, nil] of lines that name none
      # @!attribute zone [String] of stamps that have none
      # @!attribute source_id [Integer, nil] when it is one that is there already
      # @!attribute fingerprint [String] of a file's first bytes
      Stream = Struct.new(:number, :feed_id, :name, :machine, :zone, :source_id, :fingerprint, keyword_init: true)

      # What came of one stream.
      # @!attribute text [String] bytes
      # @!attribute sizes [Array<Integer>, nil] of the messages that the text is made of; nil when it is cut into lines and
      #   these are joined to records
      # @!attribute place [Place, nil] of a file
      # @!attribute received_us [Integer]
      # @!attribute delivery [String, nil] what its sender calls it, so that it is not taken twice
      Group = Struct.new(:stream, :text, :sizes, :place, :received_us, :delivery, keyword_init: true)

      # How far a file is in events with this group.
      # @!attribute from [Integer] offset of the group's first byte
      # @!attribute to [Integer]
      # @!attribute digest [String] SHA-256 of the file's bytes up to there
      # @!attribute fingerprint [String] see {Known.fingerprint}
      Place = Struct.new(:from, :to, :digest, :fingerprint)
    end
  end
end
