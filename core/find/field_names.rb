# frozen_string_literal: true

require "did_you_mean"

module Northdrift
  module Find
    # Names of fields as people type them.
    module FieldNames
      # Fields that every event has, beside those it was read with; and the parser that a person made for it.
      BUILT_IN = %w[severity message text host.name service.name source reader pattern parser].freeze

      module_function

      # @param name [String] as typed
      # @param names [Enumerable<String>] of fields that some event has
      # @return [Array(String, nil)] the field meant, or nil and what may have been meant
      def find(name, names)
        return [name, nil] if BUILT_IN.include?(name) || names.include?(name)

        all = BUILT_IN + names.to_a
        same = all.find { |known| known.casecmp?(name) }
        return [same, nil] if same

        [nil, DidYouMean::SpellChecker.new(dictionary: all).correct(name).first ||
          all.select { |known| known.split(/[._]/).include?(name.downcase) }.min_by(&:length)]
      end

      # @return [String] what to say of a name that no field has
      def unknown(name, near)
        near ? "no line has a field “#{name}”; did you mean #{near}?" : "no line has a field “#{name}”"
      end
    end
  end
end
