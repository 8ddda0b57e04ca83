# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Windows of time from words.
      class Windows < Resource
        get "/" do
          now_us = (Time.now.to_r * 1_000_000).to_i
          words = Northdrift::Windows::Words.new(zone: params["zone"] || "UTC", now_us: now_us, boots: Store::Boots.method(:latest))
          window = words.window(text("words"))
          json("from_us" => window.from_us, "to_us" => window.to_us)
        end
      end
    end
  end
end
