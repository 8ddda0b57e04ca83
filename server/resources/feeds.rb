# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Where lines come in by themselves: listeners, followed paths, commands.
      class Feeds < Resource
        # A command is run with this program's rights: only who has a shell here may say one.
        BY_HAND = "command"

        error(Intake::Live::FeedForm::Unfit) do |error|
          problem(422, "unfit-setting", error.message, "parameter" => error.setting)
        end

        get "/" do
          at_us = now_us
          feeds = Store::FeedReport.new(at_us).feeds
          json(
            "feeds" => feeds.map { |feed, volume, sources| Present.feed(feed, volume, sources) }, "now_us" => at_us,
            "writing_problem" => Intake::Live::Notice.read(settings.dir)
          )
        end

        post "/" do
          wanted = carried
          kind = required(wanted, "kind")
          if kind == BY_HAND
            raise BadParameter.new("kind", "a command is added on the command line: northdrift feed add command …")
          end

          given = Intake::Live::FeedForm.check(kind, wanted.fetch("settings", {}))
          token = Intake::Live::FeedForm.token if kind == "http"
          feed =
            Store::Feed.create!(
              name: required(wanted, "name"), kind: kind, created_us: now_us,
              given: token ? given.merge("token" => Intake::Live::Inlets::Http.digest(token)) : given
            )
          status 201
          # The token is told once; only its digest is kept.
          json(token ? present(feed).merge("token" => token) : present(feed))
        end

        patch "/:id" do
          feed = Store::Feed.present.find(params["id"])
          wanted = carried
          if feed.kind == BY_HAND && wanted.key?("settings")
            raise BadParameter.new(
              "settings", "a command is changed on the command line: northdrift feed add command …"
            )
          end

          feed.name = required(wanted, "name") if wanted.key?("name")
          feed.paused = wanted["paused"] == true if wanted.key?("paused")
          if wanted.key?("settings")
            feed.given = Intake::Live::FeedForm.check(feed.kind, wanted["settings"]).merge(feed.given.slice("token"))
          end
          feed.keep_days = days(wanted["keep_days"]) if wanted.key?("keep_days")
          feed.problem = nil
          feed.save!
          json(present(feed))
        end

        # What came in stays.
        undoable Store::Feed, problem: nil

        private

        def days(value)
          return if value.nil?

          if value.is_a?(Integer) && value.between?(1, Keepings::MOST_DAYS)
            value
          else
            raise(
              BadParameter.new(
                "keep_days", "lines are kept for a whole number of days from 1 to #{Keepings::MOST_DAYS}"
              )
            )
          end
        end

        def present(feed)
          Present.feed(feed, *Store::FeedReport.new(now_us).feeds.find { |other, *| other.id == feed.id }&.drop(1))
        end
      end
    end
  end
end
