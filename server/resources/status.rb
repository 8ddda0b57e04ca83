# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # What there is: how many lines, from when to when, which machines and services, and where to begin.
      class Status < Resource
        MOST_FIELDS = 500

        get "/" do
          first, last = Store::Span.all
          kinds = Store::Kinds.current
          json(
            "lines" => Store::Events.total, "first_us" => first, "last_us" => last,
            "live" => Store::Source.live?(now_us), "landing" => Store::Setting.get("landing"), "zone" => Store::Setting.get("zone"),
            "machines" => kinds.filter_map(&:machine).uniq.sort, "services" => kinds.filter_map(&:service).uniq.sort,
            "fields" => kinds.field_names.to_a.sort.first(MOST_FIELDS), "sources" => Store::Source.count,
            "hiding" => Store::NoiseRule.hiding(now_us).size, "version" => VERSION
          )
        end
      end
    end
  end
end
