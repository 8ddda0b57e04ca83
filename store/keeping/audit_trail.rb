# frozen_string_literal: true

require "digest"
require "oj"

module Northdrift
  module Store
    # Who did what, in an order that cannot be changed unseen: each entry has the SHA-256 of what it says and of the
    # entry before it, and the table refuses to be changed.
    module AuditTrail
      # Of its entries among the lines.
      SERVICE = "northdrift"
      # What a route does, in words, by the document that tells of all routes.
      DOCUMENT = File.join(ROOT, "docs/openapi.json")
      VERBS = %w[get post put patch delete].freeze
      # Who takes out what is older than it is kept.
      BY_ITSELF = "(Northdrift)"
      FORGET = "audit forget"
      # Before the first entry.
      NOTHING = "0" * 64
      COLUMNS = %w[at_us who address action target outcome changes].freeze
      STEP = 1000

      # @!attribute changes [Array<Hash>] see {Changes}
      Entry = Struct.new(:id, *COLUMNS.map(&:to_sym), :previous, :digest) do
        def sum = AuditTrail.sum(previous, COLUMNS.map { |name| self[name] })
        def changed = Oj.load(changes, mode: :strict)

        # @return [String, nil] what its action does, in words
        def says = AuditTrail.says[action]

        # @return [String] all of it in a few words
        def told = "#{who}: #{says || action}#{": #{target}" unless target.to_s.empty?}"
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

      # @param id [Integer]
      # @return [Array<Entry>] those that come after it, the oldest first
      def after(id, limit)
        Database.rows("SELECT #{ALL} FROM audit WHERE id > ? ORDER BY id LIMIT ?", [id, limit])
          .map { |row| Entry.new(*row) }
      end

      # @return [Hash{String=>String}] by route
      def says
        @says ||= Oj.load_file(DOCUMENT, mode: :strict)["paths"].flat_map do |path, methods|
          methods.slice(*VERBS).map { |verb, one| ["#{verb.upcase} #{path}", one["summary"]] }
        end.to_h.freeze
      end

      # Takes out what is older; how far is told by an entry, which has the digest of the last one that is gone.
      # @param before_us [Integer]
      # @return [Integer] entries that were taken out
      def forget(before_us)
        ActiveRecord::Base.transaction do
          last = Database.value(
            "SELECT coalesce((SELECT min(id) - 1 FROM audit WHERE at_us >= ?), max(id)) FROM audit", [before_us]
          )
          next 0 unless last && Database.value("SELECT 1 FROM audit WHERE id <= ? LIMIT 1", [last])

          digest = Database.value("SELECT digest FROM audit WHERE id = ?", [last])
          count = Database.value("SELECT count(*) FROM audit WHERE id <= ?", [last])
          append(
            who: BY_ITSELF, address: nil, action: FORGET, target: "#{last} #{digest}", outcome: 200,
            changes: [{ "what" => "entries up to", "id" => last, "before" => { "entries" => count }, "after" => nil }]
          )
          Database.rows("DELETE FROM audit_ends")
          Database.rows("INSERT INTO audit_ends VALUES (?, ?)", [last, digest])
          Database.rows("DELETE FROM audit WHERE id <= ?", [last])
          count
        end
      end

      # @return [Array(Integer, Integer)] entries, and the id of the first that is not as it was written, or nil
      def verify
        count = 0
        last, previous = beginning
        return [0, last + 1] unless last.zero? || end_told?(last, previous)

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

      # @return [Array(Integer, String)] id and digest of the last entry that is not kept any more
      def beginning = Database.rows("SELECT id, digest FROM audit_ends ORDER BY id DESC LIMIT 1").first || [0, NOTHING]

      # @return [Boolean] whether an entry tells of it: who takes entries out by hand leaves none
      def end_told?(id, digest)
        Database.value("SELECT 1 FROM audit WHERE action = ? AND target = ?", [FORGET, "#{id} #{digest}"]) == 1
      end
      private_class_method :beginning, :end_told?

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
