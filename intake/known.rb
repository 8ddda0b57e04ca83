# frozen_string_literal: true

require "digest"

module Northdrift
  module Intake
    # Recognises content that has been read before, whatever its name is now: the same bytes, or a file that has grown
    # since. Then only what is new is read.
    class Known
      # @!attribute bytes [Integer] how far it was read
      # @!attribute lines [Integer]
      # @!attribute digest [String] SHA-256 of these bytes
      # @!attribute fingerprint [String] SHA-256 of the first bytes
      # @!attribute machine [String, nil] that its lines were given
      # @!attribute name [String]
      # @!attribute identity [String, nil] see {Live::FollowedFile.identity}
      # @!attribute whole [Boolean, nil] whether it is the same content only where that has nothing more
      Entry = Struct.new(:id, :name, :machine, :bytes, :lines, :digest, :fingerprint, :identity, :whole)

      HEAD = 4096
      # Less than this in common may be what a program writes at the start of all its files, unless it is the same file
      # still, or the name tells so too: the same, or with what rotation adds to it.
      TELLING = 1 << 16
      # The same where the names have only their start in common.
      TELLING_ALIKE = 1024

      # @param entries [Array<Entry>]
      def initialize(entries)
        @entries = entries.select { |entry| entry.bytes.positive? }
      end

      # @return [Known] all that the database knows
      def self.load
        new(
          Store::Source
            .pluck(:id, :name, :machine, :bytes, :lines, :digest, :fingerprint, :identity)
            .map { |row| Entry.new(*row) }
        )
      end

      def add(entry) = @entries << entry

      # @param head [String] the first bytes of the content, up to {HEAD}
      # @return [Boolean] whether one name is that of the other with something added, as copies have it
      def self.copy?(name, other) = File.basename(name).start_with?(File.basename(other, ".*"))

      # @return [String] what tells it apart
      def self.fingerprint(head) = Digest::SHA256.hexdigest(head.byteslice(0, HEAD))

      # Those that the content may start with, by its first bytes alone.
      # @param identity [String, nil] see {Live::FollowedFile.identity}
      # @return [Array<Entry>] longest first, and of equal ones that of the same name
      def candidates(head, name, machine, identity: nil)
        fingerprint = Known.fingerprint(head)
        @entries.select do |entry|
          next false unless entry.machine == machine

          entry.whole = !telling?(entry, name, identity)
          if entry.bytes >= HEAD then entry.fingerprint == fingerprint
          else entry.bytes <= head.bytesize && Digest::SHA256.hexdigest(head.byteslice(0, entry.bytes)) == entry.digest
          end
        end.sort_by { |entry| [-entry.bytes, entry.name == name ? 0 : 1] }
      end

      private

      def telling?(entry, name, identity)
        entry.bytes >= TELLING || (identity && entry.identity == identity) ||
          File.basename(name).start_with?(File.basename(entry.name)) ||
          (entry.bytes >= TELLING_ALIKE && Known.copy?(name, entry.name))
      end
    end
  end
end
