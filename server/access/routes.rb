# frozen_string_literal: true

require "yaml"

module Northdrift
  module Server
    module Access
      # The table of routes and roles, see routes.yml. A route that does not stand there is nobody's.
      module Routes
        ANYBODY = "anybody"
        SELF = "self"
        TABLE = YAML.safe_load_file(File.join(__dir__, "routes.yml")).freeze
        # What is of everything, and so for those alone who may see it.
        WHOLE = TABLE.fetch("whole").to_set.freeze
        LEAST = TABLE.except("whole").flat_map { |least, routes| routes.map { |route| [route, least] } }.to_h.freeze

        module_function

        # @param route [String] such as "GET /api/lines/{id}"
        # @return [String, nil] least role, {ANYBODY} or {SELF}; nil for what nobody may do
        def least(route) = LEAST[route]

        # @param verb [String]
        # @param mount [String] where a resource stands
        # @param pattern [String] of Sinatra, below it
        # @return [String] as the table has it
        def name(verb, mount, pattern)
          "#{verb == 'HEAD' ? 'GET' : verb} #{mount}#{pattern.gsub(/:(\w+)/, '{\1}').delete_suffix('/')}"
        end
      end
    end
  end
end
