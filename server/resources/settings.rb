# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # What is set for all of it: on the pages, and in the settings file of this computer, which is told here.
      class Settings < Resource
        get("/") { json(state) }

        put "/" do
          object = carried
          Store::PageSettings.new(
            **Store::PageSettings::RANGES.to_h { |name, range| [name, whole(object, name.to_s, range)] }
          ).save
          json(state)
        end

        private

        # @return [Integer, nil] nil where that is a default
        def whole(object, name, range)
          value = object[name]
          return Store::PageSettings::DEFAULTS[name.to_sym] if value.nil?
          return value if value.is_a?(Integer) && range.cover?(value)

          raise BadParameter.new(name, "#{name} is a whole number from #{range.begin} to #{range.end}")
        end

        def state
          {
            "settings" => Store::PageSettings.current.to_h.transform_keys(&:to_s),
            "file" => Store::MachineSettings.path
          }.merge(of_this_computer)
        end

        # A mistake in the file is told, and the rest can be set meanwhile.
        def of_this_computer
          { "entries" => Store::MachineSettings.entries, "problem" => nil }
        rescue Error => error
          { "entries" => [], "problem" => error.message }
        end
      end
    end
  end
end
