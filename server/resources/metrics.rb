# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Figures for other tools: how the program is doing, and what the cards of a board measure.
      class Metrics < Resource
        set :dir, nil

        get "/" do
          families = Health.new(settings.dir).families
          id = integer("board", 1..(1 << 53), nil)
          families << of_board(id) if id
          content_type Export::OpenMetrics::TYPE
          Export::OpenMetrics.write(families)
        end

        private

        # @return [Export::OpenMetrics::Family]
        def of_board(id)
          board = Store::Board.kept.of_teams(who.teams).find(id)
          asker = Northdrift::Boards::Access::Asker.new(who.name, who.role, who.teams || [])
          raise ActiveRecord::RecordNotFound unless board.access.read?(asker)

          Export::OpenMetrics::Family.new(
            name: "northdrift_measure", type: "gauge", help: "What a card of a board measures, over its time",
            samples: samples(board.board)
          )
        end

        def samples(board)
          titles = board.cards.to_h { |card| [card.id, card.title] }
          all = []
          deck(board).each do |ids, answer, _error|
            measured = answer && answer["measurement"] or next
            ids.each { |id| all.concat(of_card(id, titles.fetch(id), measured)) }
          end
          all
        end

        # Without what it is compared with; and text cards have nothing to tell.
        def deck(board)
          zone = ActiveSupport::TimeZone["UTC"]
          words = Northdrift::Windows::Words.new(zone: "UTC", now_us: now_us, boots: Store::Boots.method(:latest))
          Cards::Deck.new(
            board, window: words.window(board.window), reader: Cards::Answer::Reader.new(zone, 0, now_us), compared: ""
          ) { |route| who.may?(route) }
        end

        def of_card(id, title, measured)
          labels = { "card" => id, "title" => Text.display(title) }
          fields = measured["by"].map { |field| Export::OpenMetrics.label(field) }
          [*measured["groups"], measured["other"]].compact.filter_map do |group|
            next if group["value"].nil?

            values = group["by"] ? group["by"].map(&:to_s) : Array.new(fields.size, "(other)")
            [labels.merge(fields.zip(values).to_h), group["value"]]
          end
        end
      end
    end
  end
end
