# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Stretches of a window in which a machine said nothing though it normally would; of the machines that the
      # question's lines may be of.
      class Silences < Resource
        get "/" do
          asked = question
          machines = asked.machines
          found =
            Store::Silences
              .of(asked.from_us, asked.to_us)
              .select { |silence| machines.nil? || machines.include?(silence.machine) }
          json("silences" => found.map { |silence| silence.to_h.transform_keys(&:to_s) })
        end
      end
    end
  end
end
