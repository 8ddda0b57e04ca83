# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Where lines come in by themselves: listeners, followed paths, commands.
      class Feeds < Resource
        # What these take in is read or run with this program's rights.
        OF_THIS_COMPUTER = %w[follow command].freeze

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
          given = allowed(kind, Intake::Live::FeedForm.check_new(kind, wanted.fetch("settings", {})))
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
          feed.name = required(wanted, "name") if wanted.key?("name")
          feed.paused = wanted["paused"] == true if wanted.key?("paused")
          if wanted.key?("settings")
            given = allowed(feed.kind, Intake::Live::FeedForm.check(feed.kind, wanted["settings"]))
            feed.given = given.merge(feed.given.slice("token"))
          end
          feed.keep_days = days(wanted["keep_days"]) if wanted.key?("keep_days")
          feed.problem = nil
          feed.save!
          json(present(feed))
        end

        # What came in stays. A source that reads this computer is had back by who could add it.
        undoable(Store::Feed, problem: nil) { |feed| feed.given = allowed(feed.kind, feed.given) }

        private

        # @param given [Hash{String=>Object}] settings
        # @return [Hash{String=>Object}] the same, with the folders that it may not leave
        def allowed(kind, given)
          return given unless OF_THIS_COMPUTER.include?(kind)

          allow_role(Northdrift::People::Role::HIGHEST)
          limits = Store::MachineSettings.current
          kind == "follow" ? within(given, limits) : listed(given, limits)
        end

        def within(given, limits)
          outside = given["paths"].split("\n").find { |path| !limits.follow?(path) }
          return given.merge("within" => limits.follow) unless outside

          raise Intake::Live::FeedForm::Unfit.new(
            "paths",
            "“#{Text.display(outside)}” is not within #{limits.follow.join(', ')}; follow it by “northdrift feed add " \
            "follow” on this computer, or list its folder in #{Store::MachineSettings.path}"
          )
        end

        def listed(given, limits)
          return given if limits.commands.include?(given["command"])

          raise Intake::Live::FeedForm::Unfit.new(
            "command",
            "add it by “northdrift feed add command” on this computer, or list it in #{Store::MachineSettings.path}"
          )
        end

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
