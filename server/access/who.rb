# frozen_string_literal: true

module Northdrift
  module Server
    module Access
      # Who asks.
      # @!attribute person [Store::Person, nil] nil where nobody is logged in, and where there are no people
      # @!attribute role [String, nil] nil for who has to log in first
      # @!attribute session [String, nil] id of a {Store::Session}
      # @!attribute token [Store::Token, nil] of a program
      Who = Struct.new(:person, :role, :session, :token) do
        # @return [Boolean] whether that is so by now: the person may have been logged out, the token taken away
        def still?
          return Store::Token.exists?(id: token.id) && !token.expired? if token

          session.nil? ||
            (Store::Session.of(session)&.person_id == person.id && Store::Person.exists?(id: person.id, sight: sight))
        end

        # @return [String, nil] nil where it is not known
        def name = token ? "token #{token.name}" : person&.name

        # @return [Array<Integer>, nil] ids of their teams; nil: what belongs to any
        def teams
          return if role == People::Role::HIGHEST

          person ? Store::Membership.where(person_id: person.id).pluck(:team_id) : []
        end

        # @return [String, nil] what they may see, see {Store::Sight}; nil: everything
        def sight = (token || person)&.sight

        # @param route [String] see {Routes}
        # @return [Boolean]
        def may?(route)
          return false if sight && Routes::WHOLE.include?(route)

          case least = Routes.least(route)
          when nil then false
          when Routes::ANYBODY then true
          when Routes::SELF then !person.nil?
          else !role.nil? && People::Role.enough?(role, least)
          end
        end
      end

      class Who
        KEY = "northdrift.who"
        # Whoever is at this computer, where there are no people.
        ALONE = new(nil, People::Role::HIGHEST, nil).freeze
        NOBODY = new(nil, nil, nil).freeze
      end
    end
  end
end
