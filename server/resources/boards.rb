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
          boards = readable.sort_by { |board| [marked.include?(board.id) ? 0 : 1, board.board.title.downcase] }
          drawings = Northdrift::Boards::Drawing::ALL.map do |name, one|
            { "name" => name, "title" => one.title, "asks" => one.asks&.to_s }
          end
          json("boards" => boards.map { |board| in_short(board) }, "drawings" => drawings)
        end

        # Boards to start with; those that have something to show say so.
        get "/starters" do
          starters = Northdrift::Boards::Starters::ALL.map do |one|
            { "name" => one.name, "title" => one.board.title, "says" => one.says, "any" => any?(one.needs),
              "definition" => fit(one.board) }
          end
          json("starters" => starters)
        end

        get "/:id" do
          json(present(found))
        end

        post "/" do
          wanted = carried
          board = Store::Board.new(team_id: team(wanted), created_us: now_us, changed_us: now_us)
          board.board = definition(wanted)
          board.access = access(wanted["access"], owner: who.name) if wanted.key?("access")
          board.save!
          status 201
          json(present(board))
        end

        # Who changes what somebody else has changed meanwhile is told.
        patch "/:id" do
          wanted = carried
          board = editable(found)
          if wanted.key?("access")
            problem(403, "not-allowed", "who made it says who may see and change it") unless board.access.own?(asker)
            access = access(wanted["access"], owner: board.made_by)
          end
          definition = wanted.key?("definition") || access.nil? ? definition(wanted) : board.board
          kept = Store::Database.step do
            changed = board.change(definition, now_us, since: wanted["changed_us"])
            board.update!(access: access) if changed && access
            changed
          end
          problem(409, "changed", "somebody has changed this board meanwhile; open it anew") unless kept
          json(present(board))
        end

        delete "/:id" do
          json(present(editable(found).tap { |board| board.update!(deleted_us: now_us) }))
        end

        post "/:id/restored" do
          json(present(editable(found(Store::Board.all)).tap { |board| board.update!(deleted_us: nil) }))
        end

        # What it was before each change, the latest first.
        get "/:id/versions" do
          versions = found.versions.map do |version|
            shown = version.shown
            { "id" => version.id, "title" => Text.display(shown.title), "cards" => shown.cards.size,
              "changed_us" => version.changed_us, "changed_by" => version.changed_by }
          end
          json("versions" => versions)
        end

        post "/:id/versions/:version/restored" do
          board = editable(found)
          version = board.versions.find(params["version"])
          Store::Database.step { board.change(version.shown, now_us) }
          json(present(board))
        end

        put "/:id/favourite" do
          board = found
          board.favourites.find_or_create_by!(person_id: person_id)
          json(present(board))
        end

        delete "/:id/favourite" do
          board = found
          board.favourites.where(person_id: person_id).destroy_all
          json(present(board))
        end

        # What cards show, whether they are kept or not: JSON objects, one a line, each as soon as it is known.
        post "/answers" do
          wanted = carried
          deck = deck(wanted, definition(wanted))
          content_type "application/x-ndjson"
          stream { |out| tell(deck, out) }
        end

        # The figures of one card as a file.
        post "/figures" do
          wanted = carried
          form = string(wanted, "form").then { |given| given.empty? ? "csv" : given }
          type = Export::Table::FORMS.fetch(form) do
            raise BadParameter.new("form", "a form is one of #{Export::Table::FORMS.keys.join(', ')}")
          end
          board = definition(wanted)
          raise BadParameter.new("definition", "one card is wanted") unless board.cards.one?

          table = figures(deck(wanted, board), reader(wanted).zone)
          content_type type
          Export::Table.write(form, board.cards.first.title, table.headings, table.rows)
        end

        private

        def asker = @asker ||= Northdrift::Boards::Access::Asker.new(who.name, who.role, who.teams || [])

        def readable
          Store::Board.of_teams(who.teams).includes(:team).kept.order(:id).select { |board| board.access.read?(asker) }
        end

        def any?(find)
          Store::Question.new(find: find, checked: false).page(limit: 1).events.any?
        end

        # Without the cards that ask for fields that no line has: they would say nothing but that.
        def fit(board)
          known = -> { Store::Kinds.current.field_names }
          cards = board.cards.select do |card|
            asked = card.asked
            Find::Parser.parse(asked["find"].first.to_s, known: known)
            Measure::Clause.parse(asked["measure"].first || "count", known: known)
          rescue Find::Mistake
            false
          end
          board.definition.merge("cards" => cards.map(&:definition))
        end

        # One that somebody may not look at is not there for them.
        def found(boards = Store::Board.kept)
          board = boards.of_teams(who.teams).find(params["id"])
          board.access.read?(asker) ? board : raise(ActiveRecord::RecordNotFound)
        end

        def editable(board)
          return board if board.access.edit?(asker)

          problem(403, "not-allowed", "this board is not for you to change; duplicate it to have one of your own")
        end

        def access(given, owner:) = Northdrift::Boards::Access.of(given, owner: owner)

        # Whom who made it may let see and change it.
        def grants
          teams = who.teams ? Store::Team.where(id: who.teams) : Store::Team.all
          [
            [Northdrift::Boards::Access::EVERYONE, "everyone"],
            *Northdrift::People::Role::NAMES.map { |role| ["role:#{role}", "#{role}s and above"] },
            *teams.order(:name).map { |team| ["team:#{team.id}", "team #{team.name}"] },
            *Store::Person.order(:name).pluck(:name).map { |name| ["person:#{name}", name] }
          ].map { |grant, title| { "grant" => grant, "title" => title } }
        end

        def person_id = who.person&.id || Store::BoardFavourite::ALONE

        def marked = @marked ||= Store::BoardFavourite.where(person_id: person_id).pluck(:board_id)

        def definition(wanted)
          wanted["definition"].is_a?(Hash) or
            raise BadParameter.new("definition", "definition is a board, as an object")
          Northdrift::Boards::Board.new(wanted["definition"])
        end

        def deck(wanted, board)
          compared = wanted["compared"] && string(wanted, "compared")
          window = window_of(wanted)
          Cards::Deck.new(
            board, window: window, reader: reader(wanted), chosen: chosen(wanted), compared: compared
          ) { |route| who.may?(route) }
        end

        def figures(deck, zone)
          told = deck.to_enum(:each).first or raise BadParameter.new("definition", "a text has no figures")
          _, answer, error = told
          raise error if error

          Cards::Figures.new(zone).of(answer)
        end

        def window_of(wanted)
          times = wanted.values_at("from_us", "to_us")
          return Northdrift::Windows::Words::Window.new(*times) if times.all? { |us| us.nil? || us.is_a?(Integer) }

          raise BadParameter.new("from_us", "times are whole numbers of microseconds")
        end

        def reader(wanted)
          offset = wanted.fetch("utc_offset", 0)
          unless offset.is_a?(Integer) && offset.between?(-86_400, 86_400)
            raise BadParameter.new("utc_offset", "utc_offset is a whole number of seconds, up to a day")
          end

          name = wanted["zone"] ? string(wanted, "zone") : "UTC"
          zone = ActiveSupport::TimeZone[name] or
            raise BadParameter.new("zone", "there is no time zone “#{Text.display(name)}”")
          Cards::Answer::Reader.new(zone, offset, now_us)
        end

        # Values of variables that are chosen.
        def chosen(wanted)
          values = wanted.fetch("values", {})
          return values if values.is_a?(Hash) && values.values.all?(String)

          raise BadParameter.new("values", "values are texts, by the names of variables")
        end

        def tell(deck, out)
          started = clock
          deck.each(tick: -> { raise Gone if gone? }) do |cards, answer, error|
            part = error ? { "problem" => cut_short(error) } : { "answer" => answer }
            out << json({ "cards" => cards }.merge(part)) << "\n"
          end
          out << json("milliseconds" => ((clock - started) * 1000).round(1)) << "\n"
        rescue Gone
          nil
        rescue StandardError => error
          out << json("problem" => cut_short(error)) << "\n"
        ensure
          ActiveRecord::Base.connection_handler.clear_active_connections!
        end

        def in_short(board)
          shown = board.board
          {
            "id" => board.id, "title" => Text.display(shown.title), "tags" => shown.tags, "cards" => shown.cards.size,
            "changed_us" => board.changed_us, "favourite" => marked.include?(board.id),
            "editable" => board.access.edit?(asker), "access" => board.access.to_h
          }.merge(board.owner, board.authors)
        end

        def present(board)
          {
            "id" => board.id, "definition" => board.board.definition, "changed_us" => board.changed_us,
            "deleted" => !board.deleted_us.nil?, "favourite" => board.favourites.exists?(person_id: person_id),
            "editable" => board.access.edit?(asker), "access" => board.access.to_h,
            "grants" => board.access.own?(asker) ? grants : []
          }.merge(board.owner, board.authors)
        end
      end
    end
  end
end
