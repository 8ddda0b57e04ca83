# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # How far the clocks of the machines are apart in a window.
      class Clocks < Resource
        get "/" do
          asked = question
          clocks = Store::ClockSurvey.new(asked.from_us, asked.to_us)
          survey(clocks) { { "clocks" => clocks.rows.map { |clock| Present.clock(clock) }, "total" => clocks.total } }
        end
      end
    end
  end
end
