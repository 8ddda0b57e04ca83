# frozen_string_literal: true

module Northdrift
  module Server
    module Topics
      # That lines have come or gone, or an upload has moved on.
      class News
        # @return [String]
        def news
          now = Store::News.now
          return "" if now == @last

          @last = now
          Topics.event("change", "lines" => now.lines)
        end
      end
    end
  end
end
