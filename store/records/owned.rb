# frozen_string_literal: true

module Northdrift
  module Store
    # Of what belongs to a {Team}, or to everybody.
    module Owned
      # @param model [Class] with a column `team_id`
      def self.included(model)
        model.belongs_to(:team, class_name: "Northdrift::Store::Team", optional: true)
        model.extend(Reading)
      end

      # Questions to the table.
      module Reading
        # @param teams [Array<Integer>, nil] of who asks; nil: all
        # @return [ActiveRecord::Relation] what they may see
        def of_teams(teams) = teams ? where(team_id: [nil, *teams]) : all
      end

      # @return [Hash{String=>Object}] nil where it is everybody's
      def owner = { "team" => team && { "id" => team.id, "name" => team.name } }
    end
  end
end
