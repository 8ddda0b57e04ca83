# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Rules that turn down lines that bring nothing.
      class NoiseRules < Resource
        DAY_US = 86_400_000_000
        KEEP = (2..1_000_000)
        SAMPLES = 5

        get "/" do
          json("rules" => Store::NoiseRule.present.map { |rule| present(rule) })
        end

        # What it would have taken of the last day that there is; nothing is kept.
        post "/trial" do
          object = carried
          rule = rule(object)
          to_us = [Store::Span.all[1], now_us].min
          asked = Store::Question.new(find: rule.find, from_us: to_us - DAY_US, to_us: to_us)
          lines, bytes = asked.in_pieces(:sizes).transpose.map(&:sum)
          kept = rule.action == "thin" ? rule.keep : nil
          all = Store::Question.new(from_us: to_us - DAY_US, to_us: to_us).total
          json(
            "from_us" => to_us - DAY_US, "to_us" => to_us, "matched" => lines.to_i, "lines" => share(lines.to_i, kept),
            "bytes" => share(bytes.to_i, kept), "all_lines" => all,
            "samples" => asked.page(last: true, limit: SAMPLES).events.map { |event| Present.line(event) }
          )
        end

        post "/" do
          rule = rule(carried)
          rule.update!(created_us: now_us)
          status 201
          json(present(rule))
        end

        patch "/:id" do
          rule = Store::NoiseRule.present.find(params["id"])
          object = carried
          rule.enabled = object["enabled"] == true if object.key?("enabled")
          rule.save!
          json(present(rule))
        end

        undoable Store::NoiseRule

        # The latest lines that it turned away.
        get "/:id/lines" do
          json("lines" => Store::IntakeRules.latest(params["id"].to_i).map { |line| Present.turned_away(line) })
        end

        private

        # @return [Store::NoiseRule] not saved
        def rule(object)
          find = required(object, "find")
          Find::Parser.parse(find, known: -> { Store::Kinds.current.field_names })
          action = object["action"].to_s
          unless Rules::Noise::ACTIONS.include?(action)
            raise BadParameter.new("action", "action must be one of #{Rules::Noise::ACTIONS.join(', ')}")
          end

          keep = object.fetch("keep", 10)
          unless keep.is_a?(Integer) && KEEP.cover?(keep)
            raise BadParameter.new("keep", "one in so many is kept: a whole number from #{KEEP.begin}")
          end

          expires_us = object["expires_us"]
          Store::NoiseRule.new(
            name: string(object, "name").then { |name| name.empty? ? find : name }, find: find, action: action,
            keep: keep, expires_us: expires_us.is_a?(Integer) ? expires_us : nil
          ).tap(&:note_patterns)
        end

        def share(number, kept) = kept ? number - (number / kept) : number

        def present(rule)
          {
            "id" => rule.id, "name" => Text.display(rule.name), "find" => rule.find, "action" => rule.action,
            "keep" => rule.keep, "lines" => rule.lines, "bytes" => rule.bytes, "enabled" => rule.enabled,
            "expires_us" => rule.expires_us, "holds" => rule.holds?(now_us)
          }.merge(rule.authors)
        end
      end
    end
  end
end
