# frozen_string_literal: true

require "securerandom"

module Northdrift
  module Demo
    # Somebody of each role, with a password that is new at each start.
    module Team
      ROLES = { "Berit" => "viewer", "Sigrid" => "responder", "Olav" => "operator", "Ida" => "administrator" }.freeze

      module_function

      # @param data [String] data folder
      # @yieldparam name [String]
      # @yieldparam role [String]
      # @yieldparam password [String]
      def gather(data)
        Store::Database.open(data)
        ROLES.each do |name, role|
          password = "demo-#{SecureRandom.alphanumeric(10)}"
          person = Store::Person.named(name) || Store::Person.add(name, role: role)
          person.choose_password(password)
          yield name, role, password
        end
      end
    end
  end
end
