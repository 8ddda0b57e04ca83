# frozen_string_literal: true

require "puma"
require "puma/configuration"
require "puma/launcher"
require "socket"

module Northdrift
  module Server
    # Starts the processes: web workers that answer, one that reads what is uploaded, and the collector. They end
    # together.
    class Launcher
      # A query holds Ruby's lock while SQLite works, so questions are answered by processes, not threads; what takes
      # long is done by a crew of further ones.
      WORKERS = 2
      # Open pages hold one or two each while they wait for news.
      THREADS = 24
      WATCH_SECONDS = 1
      INTAKE_GRACE_SECONDS = Children::GRACE_SECONDS + 5

      # @param dir [String] data folder
      # @param tls [Array(String, String), nil] paths of a certificate and its key, see {TlsFiles}
      # @param proxies [Array<String>] see {Access::Proxies}
      # @param beside [Hash{String=>#call}] further processes, see {Supervisor}
      # @param ready [#call] called with the address once it answers
      def initialize(
        dir,
        port:,
        bind: "127.0.0.1",
        names: [],
        people: nil,
        tls: nil,
        proxies: [],
        beside: {},
        ready: ->(address) { puts("Northdrift answers at #{address}") || $stdout.flush }
      )
        @dir = dir
        @port = port
        @bind = bind
        @names = OwnNames.new(bind, names)
        @people = people
        @tls = tls
        @proxies = proxies
        @beside = beside
        @ready = ready
      end

      # Returns once it was told to stop. Where a backup is to take the place of the data folder, it makes way for that
      # and starts again.
      def run
        loop do
          Store::Replacement.carry_out(@dir, seconds: INTAKE_GRACE_SECONDS) if Store::Replacement.ready(@dir)
          Store::Replacement.hold(@dir) { serve }
          break unless Store::Replacement.ready(@dir)

          @intake = nil
        end
      end

      private

      def serve
        check_port
        Store::Database.open(@dir)
        mode = Access::Mode.new(people: @people, reachable: @names.reachable?)
        mode.check
        Store::Relay.seal_all
        settings = Store::MachineSettings.current # a mistake in it is told at once
        Access::Provider.of(settings)
        @secure = TlsFiles.of(*(@tls || [settings.tls_cert, settings.tls_key]))
        Store::Setting.set(Sending::Contents::ADDRESS, address)
        warn "northdrift: others can look into the data folder: chmod 700 #{@dir}" if Store::Database.exposed?(@dir)
        Intake::Live::Inlets.set_up
        LOADER.eager_load
        # What several processes need, they share when it is made before they are.
        Logbook::Catalogue.shipped
        # A larger body is not even taken in.
        largest = Store::UploadLimits.current.bytes
        app = App.build(@dir, hosts: @names.hosts, mode: mode, proxies: @proxies + settings.proxies)
        ActiveRecord::Base.connection_handler.clear_all_connections!
        @intake = fork { Supervisor.new(Supervisor.intake(@dir).merge(@beside)).run }
        events = Puma::Events.new
        events.after_booted { @ready.call(address) }
        # It waits for all children before it returns, the others too.
        events.after_stopped { Children.signal(:TERM, @intake) }
        log = Puma::LogWriter.new(File.open(File::NULL, "w"), $stderr)
        puma = Puma::Launcher.new(configuration(app, largest), events: events, log_writer: log)
        watch = make_way(puma)
        puma.run
      ensure
        watch&.kill
        stop_intake
      end

      # @return [Thread] which stops it when a backup is ready to be taken
      def make_way(puma)
        Thread.new do
          sleep WATCH_SECONDS until Store::Replacement.ready(@dir)
          puma.stop
        end
      end

      def address = "#{@secure ? 'https' : 'http'}://#{@names.told}:#{@port}"

      def check_port
        TCPServer.new(@bind, @port).close
      rescue SystemCallError => error
        raise Error,
              "cannot listen on #{@bind}:#{@port}: #{error.message.sub(%r{ - bind.*}, '')}; choose another with --port"
      end

      def configuration(app, largest)
        dir = @dir
        at = @bind.include?(":") ? "[#{@bind}]" : @bind
        bind = @secure ? @secure.bind(at, @port) : "tcp://#{at}:#{@port}"
        Puma::Configuration.new do |config|
          config.bind bind
          config.workers WORKERS
          config.threads 1, THREADS
          config.preload_app!
          config.app app
          config.environment "production"
          config.quiet
          config.silence_fork_callback_warning if config.respond_to?(:silence_fork_callback_warning)
          # The first question should not wait for what every question needs.
          config.before_worker_boot do
            Store::Crew.current = Store::Crew.new(dir)
            # Processes cannot be started from a worker that answers: another worker with a whole crew takes its place.
            Store::Crew.on_loss = -> { Process.kill(:TERM, Process.pid) }
            Store::Database.open(dir, mapped: true) && Store::Question.new.page(limit: 1)
          end
          config.force_shutdown_after 2
          config.http_content_length_limit largest
        end
      end

      # It waits for its own, which have so long to end.
      def stop_intake = @intake && Children.stop({ "northdrift: intake" => @intake }, grace: INTAKE_GRACE_SECONDS)
    end
  end
end
