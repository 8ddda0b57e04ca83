# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # What administrators set on the pages, beside what the settings file has ({MachineSettings}).
    # @!attribute idle_hours [Integer] after which a login ends that is not used
    # @!attribute login_days [Integer] after which each login ends
    # @!attribute audit_days [Integer, nil] that entries of the audit trail are kept; nil: for ever
    # @!attribute normal_days [Integer] after which what is unusual is taken as normal
    PageSettings = Struct.new(:idle_hours, :login_days, :audit_days, :normal_days, keyword_init: true) do
      # @return [PageSettings] as they were set; each request asks, so they are read again only after a moment
      def self.current
        now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        path, read, known = @known
        return known if known && path == Database.path && now - read < PageSettings::LASTS_SECONDS

        given = Setting.get(PageSettings::NAME)
        found = new(**PageSettings::DEFAULTS, **(given ? Oj.load(given, mode: :strict).transform_keys(&:to_sym) : {}))
        @known = [Database.path, now, found.freeze]
        found
      end

      def self.forget = @known = nil

      def save
        Setting.change(PageSettings::NAME, Oj.dump(to_h.transform_keys(&:to_s), mode: :strict))
        PageSettings.forget
      end
    end

    class PageSettings
      NAME = "settings"
      DEFAULTS = { idle_hours: 12, login_days: 7, audit_days: nil, normal_days: 7 }.freeze
      RANGES = { idle_hours: 1..720, login_days: 1..365, audit_days: 1..36_500, normal_days: 1..365 }.freeze
      # Of every process its own.
      LASTS_SECONDS = 2
    end
  end
end
