# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Windows of time from words.
      class Windows < Resource
        get "/" do
          window = words.window(text("words"))
          json("from_us" => window.from_us, "to_us" => window.to_us)
        end

        # A moment alone.
        get "/moment" do
          json("at_us" => words.moment(text("words")))
        end

        # Where there is most to look at.
        get "/main" do
          from_us, to_us = Store::Stretch.main
          json("from_us" => from_us, "to_us" => to_us)
        end

        private

        def words
          Northdrift::Windows::Words.new(
            zone: params["zone"] || "UTC", now_us: now_us, boots: Store::Boots.method(:latest)
          )
        end
      end
    end
  end
end
