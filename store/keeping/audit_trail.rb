# frozen_string_literal: true

require "digest"
require "oj"

module Northdrift
  module Store
    # Who did what, in an order that cannot be changed unseen: each entry has the SHA-256 of what it says and of the
    # entry before it, and the table refuses to be changed.
    module AuditTrail
      # Before the first entry.
      NOTHING = "0" * 64
      COLUMNS = %w[at_us who address action target outcome changes].freeze
      STEP = 1000

      # @!attribute changes [Array<Hash>] see {Changes}
      Entry = Struct.new(:id, *COLUMNS.map(&:to_sym), :previous, :digest) do
        def sum = AuditTrail.sum(previous, COLUMNS.map { |name| self[name] })
        def changed = Oj.load(changes, mode: :strict)
      end
      ALL = "id, #{COLUMNS.join(', ')}, previous, digest".freeze

      module_function

      # @param who [String] name of a person, of a token, or what stands for nobody in particular
      # @param address [String, nil] where it was asked from
      # @param action [String] route, or command
      # @param target [String] what it was done to
      # @param outcome [Integer] status of the answer
      # @param changes [Array<Hash>] see {Changes}
      def append(who:, address:, action:, target:, outcome:, changes: [])
        said = [Clock.now_us, who, address, action, target, outcome, Oj.dump(changes, mode: :strict)]
        ActiveRecord::Base.transaction do
          previous = Database.value("SELECT digest FROM audit ORDER BY id DESC LIMIT 1") || NOTHING
          Database.rows(
            "INSERT INTO audit (#{COLUMNS.join(', ')}, previous, digest) VALUES (#{Array.new(9, '?').join(', ')})",
            [*said, previous, sum(previous, said)]
          )
        end
      end

      # @param before [Integer, nil] id that they come before
      # @return [Array<Entry>] the newest first
      def latest(limit, before: nil)
        rows = Database.rows(
          "SELECT #{ALL} FROM audit WHERE id < ? ORDER BY id DESC LIMIT ?", [before || (1 << 62), limit]
        )
        rows.map { |row| Entry.new(*row) }
      end

      # @return [Array(Integer, Integer)] entries, and the id of the first that is not as it was written, or nil
      def verify
        count = 0
        previous = NOTHING
        last = 0
        loop do
          some = Database.rows("SELECT #{ALL} FROM audit WHERE id > ? ORDER BY id LIMIT #{STEP}", [last])
          return [count, missing(last)] if some.empty?

          some.map { |row| Entry.new(*row) }.each do |entry|
            # Ids have no gaps: what was taken out is missed, whatever was done to the rest.
            unless entry.id == last + 1 && entry.previous == previous && entry.digest == entry.sum
              return [count,
                      entry.id]
            end

            count += 1
            last = entry.id
            previous = entry.digest
          end
        end
      end

      # @return [Integer, nil] id of the first after the last, where there were more: SQLite keeps count
      def missing(last)
        last + 1 if Database.value("SELECT seq FROM sqlite_sequence WHERE name = 'audit'").to_i > last
      end
      private_class_method :missing

      # @param values [Array] of {COLUMNS}
      # @return [String] hexadecimal
      def sum(previous, values) = Digest::SHA256.hexdigest(Oj.dump([previous, *values], mode: :strict))
    end
  end
end
