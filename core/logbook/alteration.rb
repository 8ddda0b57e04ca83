# frozen_string_literal: true

module Northdrift
  module Logbook
    # What rules that have changed may read otherwise: lines that one of them fits now, and lines that one of them told
    # before. Of any other line the first rule that fits is what it was.
    Alteration = Struct.new(:finds, :rules) do
      # @param before [Hash{String=>Object}] see {Catalogue#definition}
      # @param after [Hash{String=>Object}]
      # @return [Alteration, nil] find texts of the lines, and ids of the rules; nil when the rules that ship are
      #   others, and any line may be concerned
      def self.between(before, after)
        return unless before["shipped"] == after["shipped"]

        own = [after["own"] - before["own"], before["own"] - after["own"]]
        off = [before["off"] - after["off"], after["off"] - before["off"]]
        shipped = Catalogue.shipped.rules.select { |rule| off.first.include?(rule.id) }
        new(own.first.map { |rule| rule["find"] } + shipped.map(&:find), own.last.map { |rule| rule["id"] } + off.last)
      end
    end
  end
end
