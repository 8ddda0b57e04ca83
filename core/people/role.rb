# frozen_string_literal: true

module Northdrift
  module People
    # What people may do. Each role may do what those before it may.
    module Role
      NAMES = %w[viewer responder operator administrator].freeze
      MAY = {
        "viewer" => "view and search", "responder" => "also cases, alerts, scopes and saved questions",
        "operator" => "also files, sources, rules, parsers, noise, forwarding and retention",
        "administrator" => "also people, limits and permanent deletion"
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
