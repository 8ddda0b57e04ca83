# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # What is muted and what is planned: alerts that are raised and not told.
      class AlertQuiets < Resource
        MOST_WHY = 1000
        LASTS_US = 1_000_000..(30 * 86_400_000_000)

        # Those that hold, or will; those that are over are left out unless they are asked for.
        get "/" do
          all = Store::Quiet.present
          all = all.where("until_us IS NULL OR until_us > ?", now_us) unless text("over") == "yes"
          names = Store::AlertRule.where(id: all.filter_map(&:rule_id)).to_h { |rule| [rule.id, rule.given["name"]] }
          json("quiets" => all.map { |one| present(one, names) })
        end

        post "/" do
          wanted = carried
          quiet = Store::Quiet.new(
            kind: kind(wanted), rule_id: rule(wanted), find: find(wanted), why: string(wanted, "why")[0, MOST_WHY],
            created_us: now_us, changed_us: now_us, hours: hours(wanted), **span(wanted), **told(wanted)
          )
          if quiet.rule_id.nil? && quiet.entries.nil? && quiet.find.strip.empty?
            raise BadParameter.new("find", "say of which machines: a find text such as host.site = auk")
          end

          Store::Database.step { quiet.save! && quiet.take_in }
          status 201
          json(present(quiet))
        end

        delete "/:id" do
          quiet = Store::Quiet.present.find(params["id"])
          Store::Database.step { quiet.update!(deleted_us: now_us, changed_us: now_us) && quiet.let_go }
          json(present(quiet))
        end

        post "/:id/restored" do
          quiet = Store::Quiet.find(params["id"])
          Store::Database.step { quiet.update!(deleted_us: nil, changed_us: now_us) && quiet.take_in }
          json(present(quiet))
        end

        private

        def kind(wanted)
          kind = required(wanted, "kind")
          return kind if Store::Quiet::KINDS.include?(kind)

          raise BadParameter.new("kind", "a kind is one of #{Store::Quiet::KINDS.join(', ')}")
        end

        def rule(wanted)
          id = wanted["rule_id"] or return
          return id if id.is_a?(Integer) && Store::AlertRule.present.exists?(id)

          raise BadParameter.new("rule_id", "there is no such rule")
        end

        def find(wanted)
          string(wanted, "find").tap { |find| Find::Parser.parse(find) unless find.strip.empty? }
        end

        def span(wanted)
          from_us = wanted.fetch("from_us", now_us)
          until_us = wanted["until_us"]
          unless from_us.is_a?(Integer) && (until_us.nil? || until_us.is_a?(Integer))
            raise BadParameter.new("from_us", "times are whole numbers of microseconds")
          end
          raise BadParameter.new("until_us", "it ends before it begins") if until_us && until_us <= from_us

          { from_us: from_us, until_us: until_us }
        end

        # Those in which it is quiet again and again.
        def hours(wanted)
          given = wanted["hours"] or return
          raise BadParameter.new("hours", "say on which days, or from when to when") if Rules::Hours.new(given).always?

          Oj.dump(given, mode: :strict)
        rescue Rules::Mistake => error
          raise BadParameter.new("hours", error.message)
        end

        # Entries of the logbook that tell it, and for how long.
        def told(wanted)
          kinds = wanted["entries"] or return {}
          unless kinds.is_a?(Array) && kinds.any? && kinds.all? { |kind| Logbook::Rule::KINDS.key?(kind) }
            raise BadParameter.new("entries",
                                   "entries are kinds of the logbook: #{Logbook::Rule::KINDS.keys.join(', ')}")
          end

          lasts_us = wanted["lasts_us"]
          unless lasts_us.is_a?(Integer) && LASTS_US.cover?(lasts_us)
            raise BadParameter.new("lasts_us", "it lasts from a second to 30 days, in microseconds")
          end

          { entries: Oj.dump(kinds, mode: :strict), lasts_us: lasts_us, says: string(wanted, "says")[0, MOST_WHY] }
        end

        def present(one, names = nil)
          names ||= Store::AlertRule.where(id: one.rule_id).to_h { |rule| [rule.id, rule.given["name"]] }
          name = names[one.rule_id]
          Present::Quiets.quiet(one).merge("rule" => name && Text.display(name))
        end
      end
    end
  end
end
