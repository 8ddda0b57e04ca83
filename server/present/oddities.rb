# frozen_string_literal: true

module Northdrift
  module Server
    module Present
      # What is unusual.
      module Oddities
        SEEN = 5
        MOST_SOURCES = 20

        module_function

        # @param one [Store::Oddity]
        def oddity(one)
          one.attributes.slice("id", "kind", "severity", "priority", "lines", "expected", "from_us", "last_us", "state",
                               "until_us", "why", "changed_by", "field")
            .merge(
              "says" => Text.display(one.says), "surprise" => one.surprise.round(1), "find" => one.find,
              "pattern" => one.pattern_id && pattern(one.pattern_id),
              **%w[machine service value].to_h { |part| [part, one[part] && Text.display(one[part])] }
            )
        end

        # @param one [Store::Oddity]
        def detail(one)
          course = Store::OddityCourse.new(one)
          lines = course.lines(SEEN)
          oddity(one).merge(
            "course" => course.hours.map { |hour, n| { "from_us" => hour * Store::Rollup::HOUR, "lines" => n } },
            "sources" => course.sources.first(MOST_SOURCES).map { |one| source(one) },
            "machines" => course.machines.map { |name| Text.display(name) },
            "samples" => lines.map { |event| Present.line(event) }
          )
        end

        # @param one [Store::Source]
        def source(one) = { "id" => one.id, "name" => Text.display(one.name), "unusual" => one.unusual }

        def pattern(id)
          known = Store::KnownPatterns.current
          { "name" => "P#{known.now(id)}", "text" => Text.display(known.text(id).to_s) }
        end
      end
    end
  end
end
