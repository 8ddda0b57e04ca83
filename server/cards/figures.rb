# frozen_string_literal: true

module Northdrift
  module Server
    module Cards
      # The figures of a card as a table, for a file: what is drawn, as numbers.
      class Figures
        # @!attribute headings [Array<String>]
        # @!attribute rows [Array<Array>]
        Table = Struct.new(:headings, :rows)

        SECOND = 1e6

        # @param zone [ActiveSupport::TimeZone] that times are told in
        def initialize(zone)
          @zone = zone
        end

        # @param answer [Hash{String=>Object}] see {Answer#to_h}
        # @return [Table]
        def of(answer)
          name = (answer.keys - %w[from_us to_us]).first
          send(name, answer.fetch(name))
        end

        private

        # ISO 8601, with the zone's offset.
        def time(us) = Time.at(0, us, :microsecond, in: "UTC").in_time_zone(@zone).iso8601

        def measurement(told)
          told["step_us"] ? by_time(told) : by_group(told)
        end

        def groups(told) = [*told["groups"], *told["other"]]

        def named(group)
          return "other" if group["by"].nil?

          group["by"].empty? ? "all" : group["by"].map { |value| value || "(none)" }.join(", ")
        end

        def unit(told) = told["unit"] ? " (#{told['unit']})" : ""

        # Steps downward, groups beside each other.
        def by_time(told)
          all = groups(told)
          steps = all.map { |group| group["steps"].to_h }
          rows = (0...told["steps"]).map do |step|
            [time(told["start_us"] + (step * told["step_us"])), *steps.map { |values| values[step] || none(told) }]
          end
          Table.new(["time", *all.map { |group| "#{named(group)}#{unit(told)}" }], rows)
        end

        # Where there is no line there is none; an average of nothing is not known.
        def none(told) = Measured::COUNTED.include?(told["aggregate"]) ? 0 : nil

        def by_group(told)
          measured = [told["aggregate"], told["field"]].compact.join(" of ")
          rows = groups(told).map do |group|
            [*(group["by"] || ["other", *Array.new([told["by"].size - 1, 0].max)]), group["value"]]
          end
          Table.new([*told["by"], "#{measured}#{unit(told)}"], rows)
        end

        def patterns(told)
          Table.new(%w[pattern lines text], told["rows"].map { |row| row.values_at("name", "count", "text") })
        end

        def words(told) = Table.new(%w[word lines], told["rows"].map { |row| row.values_at("word", "count") })

        # By time, or each lane.
        def histogram(told)
          rows = told["series"].flat_map do |lane|
            lane["counts"].map do |step, *counts|
              [*(lane["name"] || "" if told["field"]), time(told["start_us"] + (step * told["step_us"])), *counts]
            end
          end
          Table.new([*told["field"], "time", *Severity::NAMES], rows)
        end

        def logbook(told)
          rows = told["entries"].map do |one|
            [time(one["time_us"]), Severity::NAMES[one["severity"]], one["machine"], one["says"], one["person"]]
          end
          Table.new(%w[time severity machine says person], rows)
        end

        def alerts(told)
          rows = told["alerts"].map do |one|
            [one["name"], Severity::NAMES[one["worst"]], one["machine"], one["state"], time(one["raised_us"]),
             time(one["last_us"]), one["taken_by"]]
          end
          Table.new(["alert", "severity", "machine", "state", "raised", "lasted until", "taken by"], rows)
        end

        def availability(told)
          rows = told["groups"].map do |group|
            up = group["days"].sum { |day| day["up_us"] }
            known = group["days"].sum { |day| day["known_us"] }
            [group["name"], group["machines"].size, up / SECOND, known / SECOND]
          end
          Table.new(["group", "machines", "up (s)", "known (s)"], rows)
        end

        def map(told)
          rows = told["machines"].map { |one| [one["machine"], one["role"], one["site"], one["alerts"]["all"]] }
          Table.new(["machine", "role", "site", "open alerts"], rows)
        end
      end
    end
  end
end
