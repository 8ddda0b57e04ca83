# frozen_string_literal: true

module Northdrift
  module Store
    # Of what people set: who made it, and who changed it last. Names, since they stay when somebody goes.
    module Authored
      # @param model [Class] with columns `made_by` and `changed_by`
      def self.included(model)
        model.before_create { self.made_by = Changes.by }
        model.before_update { self.changed_by = Changes.by if Changes.by && changed? }
      end

      # @return [Hash{String=>String}] nil where it is not known
      def authors = attributes.slice("made_by", "changed_by")
    end
  end
end
