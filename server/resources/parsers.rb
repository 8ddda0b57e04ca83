# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # People's own rules that take fields out of messages.
      class Parsers < Resource
        MOST_SAMPLES = 50

        error(Rules::Parser::Mistake) { |error| problem(422, "unfit-parser", error.message, "parameter" => error.part) }

        get "/" do
          json("parsers" => Store::ParserRule.present.map { |rule| present(rule) }, "types" => Rules::Parser::TYPES.keys)
        end

        post "/" do
          wanted = wanted()
          rule = Store::ParserRule.create!(**wanted, position: Store::ParserRule.maximum(:position).to_i + 1, created_us: now_us, changed_us: now_us)
          status 201
          json(present(rule))
        end

        # What it would give; nothing is kept.
        post "/trial" do
          object = carried
          samples = Array(object["samples"]).map { |sample| checked("samples", sample) }.first(MOST_SAMPLES)
          parser = Rules::Parser.new(pattern: string(object, "pattern"), types: types(object), find: string(object, "find"))
          trial = Store::ParserTrial.new(parser, samples, Store::Question.new(find: string(object, "find")))
          json("samples" => trial.samples.map { |line| line(line) }, "lines" => trial.lines.map { |line| line(line) }, "looked_at" => trial.looked_at, "matched" => trial.matched,
               "microseconds" => trial.microseconds.round(2), "slow" => trial.microseconds > Store::ParserTrial::SLOW_US, "proposed" => trial.proposed, "conflicts" => trial.conflicts,
               "fields" => parser.types.keys.to_h { |group| [group, Reading::FieldNames.common(group)] })
        end

        patch "/:id" do
          rule = Store::ParserRule.present.find(params["id"])
          object = carried
          rule.assign_attributes(wanted(rule.attributes.merge("types" => rule.by_group, "samples" => rule.sample_messages).merge(object)))
          rule.enabled = object["enabled"] == true if object.key?("enabled")
          rule.position = Integer(object["position"]) if object["position"].is_a?(Integer)
          rule.update!(version: rule.version + 1, changed_us: now_us)
          json(present(rule))
        end

        undoable Store::ParserRule

        private

        # @return [Hash] attributes, after it was seen that they will do
        def wanted(object = carried)
          Rules::Parser.new(pattern: required(object, "pattern"), types: types(object), find: string(object, "find"))
          { name: required(object, "name"), pattern: string(object, "pattern"), find: string(object, "find"), types: json(types(object)),
samples: json(Array(object["samples"]).grep(String).first(MOST_SAMPLES)) }
        end

        def types(object) = (object["types"] || {}).to_h { |group, type| [group.to_s, type.to_s] }

        def line(line) = { "message" => Text.display(line.message), "values" => line.values&.transform_values { |value| value.is_a?(String) ? Text.display(value) : value } }

        def present(rule)
          { "id" => rule.id, "name" => rule.name, "pattern" => rule.pattern, "types" => rule.by_group, "find" => rule.find, "samples" => rule.sample_messages, "position" => rule.position,
            "version" => rule.version, "enabled" => rule.enabled }
        end
      end
    end
  end
end
