# frozen_string_literal: true

module Northdrift
  module Intake
    # Work on what is stored that goes on beside everything else: parsers applied to the past, archives brought back,
    # old lines forgotten, and room given back.
    class Upkeep
      POLL_SECONDS = 0.4
      # So often lines become old enough to be forgotten.
      FORGET_SECONDS = 3600
      DAY_US = 86_400_000_000
      # So often it is looked who fell silent, and who writes more than usual.
      NOTICE_SECONDS = 60
      DOING = "upkeep"
      # What could not be done, by the names of the settings.
      PROBLEM = "upkeep problem"
      AGAIN_SECONDS = 60
      # Forgetting stands before what only adds: on a full disk it is what helps.
      STEPS = {
        reread: "reading again what is stored", bring_back: "bringing lines back", take_away: "putting lines away",
        forget: "forgetting old lines", forget_audit: "forgetting old entries of the audit trail",
        read_past: "reading the logbook", notice: "looking who fell silent"
      }.freeze
      # Nobody waits for it.
      NICENESS = 10

      # @param stop [#call] returns true when it is time to end
      def initialize(stop: -> { false }, clock: -> { Store::Clock.now_us })
        @stop = stop
        @clock = clock
        @later = {}
        @problems = {}
      end

      # Works until told to stop; what was interrupted is taken up again.
      def run
        Process.setpriority(Process::PRIO_PROCESS, 0, NICENESS)
        tell
        step || sleep(POLL_SECONDS) until @stop.call
      end

      # What fails is told, left out for a while and tried again; the rest goes on.
      # @return [Boolean] whether there was something to do
      def step = STEPS.each_key.any? { |name| attempt(name) }

      private

      def attempt(name)
        return false if @later.key?(name) && @clock.call < @later[name]

        did = send(name)
        tell if @later.delete(name) && @problems.delete(name)
        did
      rescue StandardError => error
        @later[name] = @clock.call + (AGAIN_SECONDS * 1_000_000)
        @problems[name] = "#{STEPS[name]} failed: #{error.message.lines.first.to_s.strip}"
        warn "northdrift: #{@problems[name]}; it is tried again in #{AGAIN_SECONDS} s"
        tell
        false
      end

      def tell
        Store::Setting.set(PROBLEM, @problems.values.join("; ").upcase_first)
      rescue StandardError
        nil # the warning has said it
      end

      def reread
        reread = Store::Reread.where(state: Store::Reread::GOING_ON).order(:id).first or return false
        rereading = Store::Rereading.new(reread)
        reread.state == "undoing" ? rereading.undo : rereading.run
        true
      end

      # When rules of the logbook are new.
      def read_past
        catalogue = Store::LogbookSwitch.catalogue
        return false unless Store::Past.due?(catalogue, @clock.call)

        doing("reading the logbook") do
          Store::Past.read(
            catalogue, @clock.call,
            stop: -> { @stop.call || Store::LogbookSwitch.catalogue.version != catalogue.version }
          )
        end
      end

      def notice
        if Store::Setting.get(Store::Noticing::DONE) && @noticed &&
           @clock.call < @noticed + (NOTICE_SECONDS * 1_000_000)
          return false
        end
        return false if Store::Events.total.zero?

        @noticed = @clock.call
        Store::Noticing.new(@noticed).run
        @noticed = nil unless Store::OddityNoticing.new(@noticed).run
        true
      end

      def bring_back = archive("coming") { |archive| Store::Returning.new(archive).bring_back }

      def take_away = archive("going") { |archive| Store::Returning.new(archive).take_away }

      def archive(state)
        archive = Store::Archive.where(state: state).order(:id).first or return false
        yield archive
        true
      end

      # Each hour, and at once when the settings have changed.
      def forget
        keeping = Store::Keeping.current
        settings = [keeping, Store::Feed.pluck(:id, :keep_days)]
        return false if @settings == settings && @clock.call < @next

        doing("forgetting old lines") do
          Store::Forgetting.new(keeping, stop: @stop).run(@clock.call)
        end.then do |forgotten|
          doing("giving back room") { Store::Compaction.new(stop: @stop).run } if forgotten.positive?
        end
        @settings = settings
        @next = @clock.call + (FORGET_SECONDS * 1_000_000)
        true
      end

      # Each hour, and at once when it is to be kept for less.
      def forget_audit
        days = Store::PageSettings.current.audit_days
        now_us = @clock.call
        return false if days.nil? || (@audit_days == days && now_us < @audit_next)

        @audit_days = days
        @audit_next = now_us + (FORGET_SECONDS * 1_000_000)
        Store::AuditTrail.forget(now_us - (days * DAY_US)).positive?
      end

      # Says on the screen what it is about.
      def doing(what)
        Store::Setting.set(DOING, what)
        yield
      ensure
        Store::Setting.set(DOING, "")
      end
    end
  end
end
