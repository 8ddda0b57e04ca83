# frozen_string_literal: true

require "yaml"

module Northdrift
  module Demo
    # Boards that the demo's people keep.
    module Boards
      ALL = YAML.safe_load_file(File.join(__dir__, "boards.yml")).freeze

      module_function

      # Once; what people make of them stays.
      # @param now_us [Integer]
      def keep(now_us)
        return unless Store::Board.none?

        ALL.each do |given|
          Store::Board.new(created_us: now_us, changed_us: now_us)
            .tap { |board| board.board = Northdrift::Boards::Board.new(given) }.save!
        end
      end
    end
  end
end
