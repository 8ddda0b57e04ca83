# frozen_string_literal: true

module Northdrift
  module Store
    # How often machines name each other in their lines, counted in the database over all lines of a window.
    module WhoNamesWhom
      # More machines are not asked one by one.
      MOST = 300

      module_function

      # @return [Hash{Array(String, String)=>Integer}] lines by the machine that wrote them and the one that is named
      def counts(from_us, to_us)
        names = Kinds.current.filter_map(&:machine).uniq.first(MOST)
        names.each_with_object({}) do |name, counts|
          quoted = name.gsub(/["\\]/) { |sign| "\\#{sign}" }
          question = Question.new(find: %("#{quoted}" not host.name = "#{quoted}"), from_us: from_us, to_us: to_us)
          question
            .histogram(by: :machine, bins: 1)
            .series
            .each { |series| counts[[series.name, name]] = series.total if series.name && series.total.positive? }
        end
      end
    end
  end
end
