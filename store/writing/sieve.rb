# frozen_string_literal: true

module Northdrift
  module Store
    # Writes batches of which the database may refuse a line for what is in it: such lines are found by trying, and put
    # aside, so that all others are written.
    class Sieve
      # These are not the lines' fault: writing is to be tried again as it is, or not at all.
      OTHERS = [
        SystemCallError, NoMemoryError, SQLite3::BusyException, SQLite3::LockedException, SQLite3::ReadOnlyException,
        SQLite3::IOException, SQLite3::FullException, SQLite3::CantOpenException, SQLite3::MemoryException,
        SQLite3::InterruptException, SQLite3::ProtocolException, SQLite3::PermissionException,
        SQLite3::CorruptException, SQLite3::NotADatabaseException, ActiveRecord::ConnectionNotEstablished
      ].freeze
      DAMAGE = [SQLite3::CorruptException, SQLite3::NotADatabaseException].freeze

      # @param error [StandardError]
      # @return [Boolean] whether the database itself is damaged
      def self.damage?(error) = DAMAGE.include?(cause(error).class)

      # @return [Exception] what Active Record wraps
      def self.cause(error) = error.is_a?(ActiveRecord::ActiveRecordError) && error.cause ? error.cause : error

      # Rows of some lines, on trial.
      # @!attribute indexes [Array<Integer>] of them in the part's batch
      Trial =
        Struct.new(:part, :indexes) do
          def batch = @batch ||= part.batch.only(indexes)
          def packer = part.packer
          def source_id = part.source_id
          def first_line = part.first_line
          def fresh_kinds = needed(part.fresh_kinds, batch.kinds)
          def fresh_templates = needed(part.fresh_templates, batch.templates)

          private

          # Pairs or more of a number and what it stands for.
          def needed(definitions, used) = definitions.select { |number, *| used.include?(number) }
        end

      # @param writer [Writer]
      def initialize(writer)
        @writer = writer
      end

      # @yieldreturn [Array] parts as {Writer#write} takes them, made anew each time it is called; each has `leave_out`,
      #   which takes the indexes of lines that are not to be written
      # @raise [StandardError] what stands in the way of all of them
      def write
        @writer.write(yield)
      rescue StandardError => error
        raise if OTHERS.any? { |other| Sieve.cause(error).is_a?(other) }

        parts = yield
        refused = refused(parts.flat_map { |part| Array.new(part.batch.size) { |index| [part, index] } })
        raise if refused.empty?

        put_aside(refused, Sieve.cause(error))
        @writer.write(parts)
      end

      private

      # @param lines [Array<Array(Object, Integer)>] parts and indexes
      # @return [Array<Array(Object, Integer)>] those that are refused by themselves
      def refused(lines)
        return [] if lines.empty? || taken?(lines)
        return lines if lines.size == 1

        lines.each_slice((lines.size / 2.0).ceil).flat_map { |half| refused(half) }
      end

      def taken?(lines)
        @writer.try(lines.group_by(&:first).map { |part, ones| Trial.new(part, ones.map(&:last)) })
        true
      rescue StandardError => error
        raise if OTHERS.any? { |other| Sieve.cause(error).is_a?(other) }

        false
      end

      def put_aside(refused, error)
        refused.group_by(&:first).each do |part, ones|
          indexes = ones.map(&:last)
          Aside.add(part, indexes, error)
          part.leave_out(indexes)
        end
      end
    end
  end
end
