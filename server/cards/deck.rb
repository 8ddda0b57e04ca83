# frozen_string_literal: true

module Northdrift
  module Server
    module Cards
      # All cards of a board, asked together: equal ones are counted once, and those that are the least work come first.
      class Deck
        KINDS = {
          measurement: Measured, patterns: Patterns, words: Words, histogram: Rail, logbook: Entries, alerts: Alerts,
          availability: Availability, map: FleetMap
        }.freeze
        # A card that cannot be asked; the others are.
        Unfit = Struct.new(:card, :error)

        # @param board [Northdrift::Boards::Board]
        # @param window [Windows::Words::Window] of all cards that have none of their own
        # @param reader [Answer::Reader]
        # @param chosen [Hash{String=>String}] values of the board's variables, by name
        # @param compared [String, nil] what cards are compared with; nil: what the board says
        # @yieldparam route [String]
        # @yieldreturn [Boolean] whether who asks may be told
        def initialize(board, window:, reader:, chosen: {}, compared: nil, &may)
          @board = board
          @window = window
          @reader = reader
          @conditions = board.conditions(chosen)
          @compared = compared || board.compared
          @may = may || ->(_) { true }
          all = board.cards.select { |card| card.drawing.asks }.map { |card| ask(card) }
          @unfit, @answers = all.partition { |one| one.is_a?(Unfit) }
        end

        # @param tick [#call] called after each piece of work; what it raises stops it
        # @yieldparam ids [Array<String>] of cards
        # @yieldparam answer [Hash, nil]
        # @yieldparam error [Error, nil] why there is none
        def each(tick: -> {}, &block)
          @unfit.each { |one| yield [one.card.id], nil, one.error }
          Store::HourMemory.one_look { answers(tick, &block) }
        end

        private

        def answers(tick)
          weights = Hash.new { |known, span| known[span] = Store::Pieces.events(*span) }
          together = @answers.group_by(&:key).values.sort_by { |some| some.first.weight(weights) }
          together.each do |some|
            tick.call
            ids = some.map { |one| one.card.id }
            answer = begin
              some.first.to_h { tick.call }
            rescue Error => error
              raise if error.is_a?(Resource::Gone)

              yield ids, nil, error
              next
            end
            yield ids, answer, nil
          end
        end

        # @return [Answer, Unfit]
        def ask(card)
          kind = KINDS.fetch(card.drawing.asks)
          raise Error, "this is not for you to see" unless @may.call(kind::ROUTE)

          question = question(card, kind)
          kind.new(
            card, question, against: @compared.empty? ? nil : question.compared_with(@compared), reader: @reader
          ).tap(&:key)
        rescue Error => error
          Unfit.new(card, error)
        end

        def question(card, kind)
          link = card.asked
          window = card.window.empty? ? @window : words.window(card.window)
          Store::Question.new(
            find: link["find"].first.to_s, chips: [*link["chip"], *@conditions, *scope(link), *noise(link, kind)],
            from_us: window.from_us, to_us: window.to_us, hidden: hidden(link), checked: kind::OF_LINES
          )
        end

        def words
          Windows::Words.new(
            zone: @reader.zone.name, now_us: @reader.now_us, boots: Store::Boots.method(:latest)
          )
        end

        # Of the scope that it was asked in.
        def scope(link)
          name = link["scope"].first.presence or return []
          scope = Store::Scope.find_by(name: name) or
            raise Northdrift::Boards::Mistake.new("scope", "there is no scope “#{Text.display(name)}” any more")
          [scope.find]
        end

        # Of the rules that hide lines.
        def noise(link, kind)
          return [] if !kind::OF_LINES || link["noise"].first == "shown"

          Store::NoiseRule.hiding(@reader.now_us)
        end

        def hidden(link)
          link["hide"].first.to_s.split(",").map do |name|
            Severity::NAMES.index(name) or
              raise Northdrift::Boards::Mistake.new("hide", "there is no severity “#{Text.display(name)}”")
          end
        end
      end
    end
  end
end
