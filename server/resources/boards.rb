# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Pages of charts.
      class Boards < Resource
        error(Northdrift::Boards::Mistake) do |mistake|
          problem(422, "unfit-board", mistake.message, "parameter" => mistake.part)
        end

        get "/" do
          boards = own.includes(:team).kept.order(:id).sort_by { |board| board.board.title.downcase }
          drawings = Northdrift::Boards::Drawing::ALL.map { |name, one| { "name" => name, "title" => one.title } }
          json("boards" => boards.map { |board| in_short(board) }, "drawings" => drawings)
        end

        get "/:id" do
          json(present(own.kept.find(params["id"])))
        end

        post "/" do
          wanted = carried
          board = Store::Board.new(team_id: team(wanted), created_us: now_us, changed_us: now_us)
          board.board = definition(wanted)
          board.save!
          status 201
          json(present(board))
        end

        # Who changes what somebody else has changed meanwhile is told.
        patch "/:id" do
          wanted = carried
          definition = definition(wanted)
          board = own.kept.find(params["id"])
          kept = Store::Database.step { board.change(definition, now_us, since: wanted["changed_us"]) }
          problem(409, "changed", "somebody has changed this board meanwhile; open it anew") unless kept
          json(present(board))
        end

        delete "/:id" do
          json(present(own.kept.find(params["id"]).tap { |board| board.update!(deleted_us: now_us) }))
        end

        post "/:id/restored" do
          json(present(own.find(params["id"]).tap { |board| board.update!(deleted_us: nil) }))
        end

        # What cards show, whether they are kept or not: JSON objects, one a line, each as soon as it is known.
        post "/answers" do
          wanted = carried
          board = definition(wanted)
          from_us, to_us = window_of(wanted)
          measures = board.cards.select { |card| card.drawing.measures }
          all, unfit = measures.map { |card| asked(card, board, from_us, to_us) }.partition(&:question)
          answers = Store::BoardAnswers.new(all, utc_offset: utc_offset(wanted))
          content_type "application/x-ndjson"
          stream { |out| tell(answers, unfit, out) }
        end

        private

        def own = Store::Board.of_teams(who.teams)

        def definition(wanted)
          wanted["definition"].is_a?(Hash) or
            raise BadParameter.new("definition", "definition is a board, as an object")
          Northdrift::Boards::Board.new(wanted["definition"])
        end

        def window_of(wanted)
          times = wanted.values_at("from_us", "to_us")
          return times if times.all? { |us| us.nil? || us.is_a?(Integer) }

          raise BadParameter.new("from_us", "times are whole numbers of microseconds")
        end

        def utc_offset(wanted)
          offset = wanted.fetch("utc_offset", 0)
          return offset if offset.is_a?(Integer) && offset.between?(-86_400, 86_400)

          raise BadParameter.new("utc_offset", "utc_offset is a whole number of seconds, up to a day")
        end

        # @return [Store::BoardAnswers::Asked, Unfit]
        def asked(card, board, from_us, to_us)
          link = card.asked
          clause = Measure::Clause.parse(link["measure"].first.presence || "count", known: method(:known_fields))
          question = Store::Question.new(
            find: link["find"].first.to_s, chips: [*link["chip"], *board.find.presence, *conditions(link)],
            from_us: from_us, to_us: to_us, hidden: hidden_of(link["hide"].first)
          )
          Store::BoardAnswers::Asked.new(card, question, card.drawing.fit(clause))
        rescue Error => error
          Unfit.new(card, error)
        end

        # A card that cannot be asked; the others are.
        Unfit = Struct.new(:card, :error) do
          def question = nil
        end

        def known_fields = Store::Kinds.current.field_names

        # Of the scope that it was asked in, and of the rules that hide lines.
        def conditions(link)
          name = link["scope"].first
          scope = name.presence && (Store::Scope.find_by(name: name) or
            raise BadParameter.new("scope", "there is no scope “#{Text.display(name)}” any more"))
          [*scope&.find, *(Store::NoiseRule.hiding(now_us) unless link["noise"].first == "shown")]
        end

        def tell(answers, unfit, out)
          started = clock
          unfit.each { |one| out << json(answer([one.card.id], nil, one.error)) << "\n" }
          answers.each do |cards, measurement, error|
            raise Gone if gone?

            out << json(answer(cards, measurement, error)) << "\n"
          end
          out << json("milliseconds" => ((clock - started) * 1000).round(1)) << "\n"
        rescue Gone
          nil
        rescue StandardError => error
          out << json("problem" => cut_short(error)) << "\n"
        ensure
          ActiveRecord::Base.connection_handler.clear_active_connections!
        end

        def answer(cards, measurement, error)
          return { "cards" => cards, "problem" => cut_short(error) } if error

          asked = measurement.question
          { "cards" => cards, "answer" => Present.measurement(measurement).merge(
            "from_us" => asked.from_us, "to_us" => asked.to_us
          ) }
        end

        def in_short(board)
          shown = board.board
          {
            "id" => board.id, "title" => Text.display(shown.title), "tags" => shown.tags, "cards" => shown.cards.size,
            "changed_us" => board.changed_us
          }.merge(board.owner, board.authors)
        end

        def present(board)
          {
            "id" => board.id, "definition" => board.board.definition, "changed_us" => board.changed_us,
            "deleted" => !board.deleted_us.nil?
          }.merge(board.owner, board.authors)
        end
      end
    end
  end
end
