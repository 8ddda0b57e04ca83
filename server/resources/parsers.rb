# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # People's own rules that take fields out of messages.
      class Parsers < Resource
        MOST_SAMPLES = 50

        error(Rules::Mistake) { |error| problem(422, "unfit-parser", error.message, "parameter" => error.part) }

        get "/" do
          json(
            "parsers" => Store::ParserRule.present.map { |rule| present(rule) }, "types" => Rules::Parser::TYPES.keys
          )
        end

        post "/" do
          rule =
            Store::ParserRule.create!(**wanted, position: last_position + 1, created_us: now_us, changed_us: now_us)
          status 201
          json(present(rule))
        end

        # Several at once, as {#get} gives them; all or none.
        post "/exchanged" do
          given = carried["parsers"]
          unless given.is_a?(Array) && given.all?(Hash) && !given.empty?
            raise BadParameter.new("parsers", "there are no parsers in it")
          end

          rules = given.each_with_index.map { |object, index| numbered(index + 1) { wanted(object) } }
          added = Store::ParserRule.transaction do
            at = last_position
            rules.map do |rule|
              Store::ParserRule.create!(**rule, position: at += 1, created_us: now_us, changed_us: now_us)
            end
          end
          status 201
          json("parsers" => added.map { |rule| present(rule) })
        end

        # An expression from the parts of a sample that were chosen.
        post "/draft" do
          object = carried
          parts =
            Array(object["parts"])
              .grep(Hash)
              .map do |part|
                Rules::Draft::Part.new(
                  Integer(part["at"]), Integer(part["size"]),
                  part["name"].to_s.strip.then { |name| name.empty? ? nil : name }
                )
              end
          draft = Rules::Draft.new(samples(object), parts)
          json(
            "pieces" => draft.pieces.map { |piece| piece.to_h.transform_keys(&:to_s) }, "pattern" => draft.pattern,
            "types" => draft.types
          )
        rescue TypeError
          raise BadParameter.new("parts", "a part has at and size, whole numbers")
        end

        # What it would give; nothing is kept.
        post "/trial" do
          object = carried
          parser =
            Rules::Parser.new(pattern: string(object, "pattern"), types: types(object), find: string(object, "find"))
          trial = Store::ParserTrial.new(parser, samples(object), Store::Question.new(find: string(object, "find")))
          json(
            "samples" => trial.samples.map { |line| line(line) }, "lines" => trial.lines.map { |line| line(line) },
            "looked_at" => trial.looked_at, "matched" => trial.matched, "microseconds" => trial.microseconds.round(2),
            "slow" => trial.microseconds > Store::ParserTrial::SLOW_US, "proposed" => trial.proposed,
            "conflicts" => trial.conflicts, "fields" => parser.types.keys.to_h { |group| [group, parser.fields[group]] }
          )
        end

        patch "/:id" do
          rule = Store::ParserRule.present.find(params["id"])
          object = carried
          rule.assign_attributes(
            wanted(rule.attributes.merge("types" => rule.by_group, "samples" => rule.sample_messages).merge(object))
          )
          rule.enabled = object["enabled"] == true if object.key?("enabled")
          rule.update!(version: rule.version + 1, changed_us: now_us)
          move(rule, object["position"]) if object["position"].is_a?(Integer)
          json(present(rule))
        end

        # Applies it to what is stored, in the background.
        post "/:id/reread" do
          rule = Store::ParserRule.present.find(params["id"])
          Store::Reread.of(rule, now_us) unless latest_reread(rule)&.going_on?
          json(present(rule))
        end

        # Stops that, or takes its fields away again.
        delete "/:id/reread" do
          rule = Store::ParserRule.present.find(params["id"])
          reread = latest_reread(rule) or raise ActiveRecord::RecordNotFound
          Store::Reread.where(id: reread.id, state: %w[done cancelled failed]).update_all(state: "undoing").positive? ||
            Store::Reread.where(id: reread.id, state: %w[waiting running]).update_all(
              state: "cancelled", ended_us: now_us
            )
          json(present(rule))
        end

        undoable Store::ParserRule

        private

        # @param object [Hash]
        # @return [Hash] attributes, after it was seen that they will do
        def wanted(object = carried)
          parser =
            Rules::Parser.new(pattern: required(object, "pattern"), types: types(object), find: string(object, "find"))
          trial = Store::ParserTrial.new(parser, samples(object), Store::Question.new(find: string(object, "find")))
          {
            name: required(object, "name"), pattern: string(object, "pattern"), find: string(object, "find"),
            types: json(types(object)), samples: json(samples(object)), microseconds: trial.microseconds
          }
        end

        # A mistake in one of several says in which.
        def numbered(number)
          yield
        rescue Rules::Mistake => error
          raise Rules::Mistake.new(error.part, "parser #{number}: #{error.message}")
        rescue BadParameter => error
          raise BadParameter.new(error.parameter, "parser #{number}: #{error.message}")
        end

        def last_position = Store::ParserRule.maximum(:position).to_i

        # @param to [Integer] place among those there are, from 0
        def move(rule, to)
          others = Store::ParserRule.present.where.not(id: rule.id).to_a
          others
            .insert(to.clamp(0, others.size), rule)
            .each_with_index { |one, position| one.update!(position: position) }
        end

        def samples(object) = Array(object["samples"]).map { |sample| checked("samples", sample) }.first(MOST_SAMPLES)

        def types(object)
          types = object["types"] || {}
          raise(BadParameter.new("types", "types go by the names of the parts")) unless types.is_a?(Hash)

          types.to_h { |group, type| [group.to_s, type.to_s] }
        end

        def line(line)
          {
            "message" => Text.display(line.message),
            "values" => line.values&.transform_values { |value| value.is_a?(String) ? Text.display(value) : value }
          }
        end

        def latest_reread(rule) = Store::Reread.where(parser_id: rule.id).order(:id).last

        def present(rule)
          reread = latest_reread(rule)
          {
            "id" => rule.id, "name" => rule.name, "pattern" => rule.pattern, "types" => rule.by_group,
            "find" => rule.find, "samples" => rule.sample_messages, "position" => rule.position,
            "version" => rule.version, "enabled" => rule.enabled,
            "slow" => rule.microseconds > Store::ParserTrial::SLOW_US, "microseconds" => rule.microseconds.round(2),
            "day_lines" => rule.day_lines(now_us),
            "reread" => reread&.attributes&.slice("state", "total", "looked_at", "altered", "version", "problem")
          }.merge(rule.authors)
        end
      end
    end
  end
end
