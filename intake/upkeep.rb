# frozen_string_literal: true

module Northdrift
  module Intake
    # Work on what is stored that goes on beside everything else: parsers applied to the past, archives brought back,
    # old lines forgotten, and room given back.
    class Upkeep
      POLL_SECONDS = 0.4
      # So often lines become old enough to be forgotten.
      FORGET_SECONDS = 3600
      # So often it is looked who fell silent, and who writes more than usual.
      NOTICE_SECONDS = 60
      DOING = "upkeep"
      # Nobody waits for it.
      NICENESS = 10

      # @param stop [#call] returns true when it is time to end
      def initialize(stop: -> { false }, clock: -> { Store::Clock.now_us })
        @stop = stop
        @clock = clock
      end

      # Works until told to stop; what was interrupted is taken up again.
      def run
        Process.setpriority(Process::PRIO_PROCESS, 0, NICENESS)
        step || sleep(POLL_SECONDS) until @stop.call
      end

      # Forgetting stands before what only adds: on a full disk it is what helps.
      # @return [Boolean] whether there was something to do
      def step = reread || bring_back || take_away || forget || read_past || notice

      private

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
