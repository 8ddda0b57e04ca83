# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Stretches of a window in which a machine said nothing though it normally would.
      class Silences < Resource
        get "/" do
          asked = question
          json("silences" => Store::Silences.of(asked.from_us, asked.to_us).map { |silence| silence.to_h.transform_keys(&:to_s) })
        end
      end
    end
  end
end
