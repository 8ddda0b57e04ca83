# frozen_string_literal: true

require "rack"

module Northdrift
  module Server
    # The whole web application.
    module App
      RESOURCES = {
        "/api/status" => Resources::Status, "/api/lines" => Resources::Lines, "/api/histogram" => Resources::Histogram,
        "/api/patterns" => Resources::Patterns, "/api/fields" => Resources::Fields, "/api/words" => Resources::Words,
        "/api/measurements" => Resources::Measurements, "/api/clocks" => Resources::Clocks,
        "/api/sources" => Resources::Sources, "/api/searches" => Resources::Searches,
        "/api/scopes" => Resources::Scopes, "/api/exports" => Resources::Exports,
        "/api/starters" => Resources::Starters, "/api/silences" => Resources::Silences,
        "/api/windows" => Resources::Windows, "/api/completions" => Resources::Completions,
        "/api/imports" => Resources::Imports, "/api/events" => Resources::Events, "/api/feeds" => Resources::Feeds,
        "/api/parsers" => Resources::Parsers, "/api/noise-rules" => Resources::NoiseRules,
        "/api/keeping" => Resources::Keepings, "/api/relays" => Resources::Relays,
        "/api/logbook" => Resources::LogbookPages, "/api/logbook-rules" => Resources::LogbookRules,
        "/api/restarts" => Resources::Restarts, "/api/causes" => Resources::Causes, "/api/fleet" => Resources::Fleet,
        "/api/cases" => Resources::Cases, "/api/session" => Resources::Sessions, "/api/people" => Resources::People,
        "/api/invitations" => Resources::Invitations, "/api/tokens" => Resources::Tokens, "/api/teams" => Resources::Teams,
        "/api/settings" => Resources::Settings, "/api/alerts" => Resources::Alerts,
        "/api/now" => Resources::Now, "/api/alert-rules" => Resources::AlertRules, "/api/alert-routes" => Resources::AlertRoutes,
        "/api/deliveries" => Resources::Deliveries, "/api/alert-quiets" => Resources::AlertQuiets,
        "/api/audit" => Resources::Audit, "/api/unusual" => Resources::Oddities,
        "/api/outside-alerts" => Resources::OutsideAlerts, "/api/boards" => Resources::Boards,
        "/api/handovers" => Resources::Handovers, "/metrics" => Resources::Metrics
      }.freeze

      # In the data folder.
      LOGINS = "logins"

      module_function

      # @param dir [String] data folder, whose database is open
      # @param hosts [Array<String>] names it answers to besides the local ones
      # @param mode [Access::Mode]
      # @param proxies [Array<String>] see {Access::Proxies}
      # @return [#call] Rack application
      def build(dir, hosts: [], mode: Access::Mode.new, proxies: [])
        Resources::Imports.set :jobs, Intake::Jobs.new(dir)
        [Resources::Feeds, Resources::Keepings, Resources::Metrics].each { |resource| resource.set :dir, dir }
        Rack::Builder.app do
          use Access::Proxies, trusted: proxies
          use Guard, hosts: hosts
          use Access::Patience.middleware(File.join(dir, LOGINS))
          use Rack::ConditionalGet
          use Access::Gate, mode
          RESOURCES.each { |path, resource| map(path) { run resource } }
          map("/api") do
            run(lambda do |env|
              Problem.not_found("there is no #{Text.display(env['SCRIPT_NAME'] + env['PATH_INFO'])}")
            end)
          end
          run Pages.new
        end
      end
    end
  end
end
