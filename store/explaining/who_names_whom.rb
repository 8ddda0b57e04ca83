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
          lines(name, from_us, to_us).each { |machine, total| counts[[machine, name]] = total }
        end
      end

      # Its own lines are taken out here: a condition on them would be one on all kinds of the others.
      # @return [Hash{String=>Integer}] lines that name a machine, by the others that wrote them
      def lines(name, from_us, to_us)
        find = %("#{name.gsub(/["\\]/) { |sign| "\\#{sign}" }}")
        series = Question.new(find: find, from_us: from_us, to_us: to_us).histogram(by: :machine, bins: 1).series
        series.select { |one| one.total.positive? }.to_h { |one| [one.name, one.total] }.except(nil, name)
      end
      private_class_method :lines
    end
  end
end
