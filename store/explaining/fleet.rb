# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # What is known of the machines beside their lines: site, role, tags, and what they cannot do without. Lines carry
    # it as fields, those that came before too, since it belongs to their machine and not to them.
    class Fleet
      VERSION = "fleet"
      # Names of the fields. OpenTelemetry has none for these.
      SITE = "host.site"
      ROLE = "host.role"
      TAGS = "host.tags"
      NEEDS = "host.depends_on"
      RUNS_ON = "host.runs_on"
      FIELDS = [SITE, ROLE, TAGS, NEEDS, RUNS_ON].freeze
      NOTHING = {}.freeze

      # @return [Fleet] as it is now
      def self.current
        return Sight.kept(:fleet, nil) { new } if Sight.current

        place = [Database.path, Setting.get(VERSION)]
        at, fleet = @current
        return fleet if at == place

        # Both at once: threads share it.
        @current = [place, new]
        @current.last
      end

      # @return [Northdrift::Fleet::Dependencies]
      attr_reader :dependencies

      def initialize
        @machines = Machine.order(:name).to_h { |one| [one.name, one] }
        @dependencies =
          Northdrift::Fleet::Dependencies.new(
            Dependency.order(:id).map { |one| Northdrift::Fleet::Dependencies::Edge.new(one.machine, one.on, one.kind) }
          )
        @fields = Hash.new { |known, name| known[name] = fields_of(name) }
      end

      # @param machine [String, nil]
      # @return [Hash{String=>String,Array<String>}] fields of all its lines
      def fields(machine) = machine ? @fields[machine] : NOTHING

      # @return [Hash{String=>Hash}] fields by machine, of those that something is said of
      def said
        @said ||=
          (@machines.keys | @dependencies.machines).to_h { |name| [name, fields(name)] }.reject { |_, own| own.empty? }
      end

      # @return [Array<Northdrift::Fleet::Roster::Machine>] all that is said, in order of their names
      def roster
        (@machines.keys | @dependencies.machines).sort.map { |name| entry(name) }
      end

      # @param name [String]
      # @return [Northdrift::Fleet::Roster::Machine]
      def entry(name)
        said = @machines[name]
        Northdrift::Fleet::Roster::Machine.new(
          name: name, site: said&.site, role: said&.role, tags: said&.tag_names || [],
          needs: @dependencies.needs(name), runs_on: @dependencies.host(name)
        )
      end

      # Keeps what is said of machines in the place of what was said of them before.
      # @param entries [Array<Northdrift::Fleet::Roster::Machine>]
      def self.keep(entries)
        ActiveRecord::Base.transaction do
          entries.each { |entry| put(entry) }
          changed
        end
      end

      # @param edges [Array<Northdrift::Fleet::Dependencies::Edge>] that are added
      def self.add(edges)
        ActiveRecord::Base.transaction do
          edges.each { |edge| Dependency.find_or_create_by!(machine: edge.machine, on: edge.on, kind: edge.kind) }
          changed
        end
      end

      # Within a transaction: what is said of a machine is said of one of another name, unless that has its own.
      def self.rename(from, name)
        Machine.where(name: from).update_all(name: name) unless Machine.exists?(name: name)
        %i[machine on].each do |column|
          Dependency.where(column => from).find_each do |edge|
            there = Dependency.exists?(edge.attributes.except("id").merge(column.to_s => name))
            there ? edge.destroy! : edge.update!(column => name)
          end
        end
        changed
      end

      def self.put(entry)
        Changes.note("machines", entry.name, current.entry(entry.name).to_h, entry.to_h)
        Machine.upsert(
          { name: entry.name, site: entry.site, role: entry.role, tags: Oj.dump(entry.tags, mode: :strict) }
        )
        Dependency.where(machine: entry.name).delete_all
        entry.needs.each { |on| Dependency.create!(machine: entry.name, on: on, kind: "needs") }
        Dependency.create!(machine: entry.name, on: entry.runs_on, kind: "runs-on") if entry.runs_on
      end
      private_class_method :put

      def self.changed = Setting.set(VERSION, (Setting.get(VERSION).to_i + 1).to_s)

      private

      def fields_of(name)
        entry = entry(name)
        {
          SITE => entry.site, ROLE => entry.role, TAGS => entry.tags, NEEDS => @dependencies.below(name),
          RUNS_ON => entry.runs_on
        }.reject { |_, value| value.nil? || value.empty? }.freeze
      end
    end
  end
end
