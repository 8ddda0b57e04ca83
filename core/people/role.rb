# frozen_string_literal: true

module Northdrift
  module People
    # What people may do. Each role may do what those before it may.
    module Role
      NAMES = %w[viewer responder operator administrator].freeze
      MAY = {
        "viewer" => "ask and see", "responder" => "also keep cases, scopes and saved questions",
        "operator" => "also change sources, rules, parsers, noise, forwarding and how long lines are kept",
        "administrator" => "also add people, and delete for good"
      }.freeze
      HIGHEST = NAMES.last

      module_function

      # @param role [String]
      # @param needed [String]
      # @return [Boolean] whether who has the role may do what needs the other
      def enough?(role, needed) = NAMES.index(role) >= NAMES.index(needed)
    end
  end
end
