# frozen_string_literal: true

module Northdrift
  module Server
    # The commands about where lines come in by themselves.
    class FeedCli < Commands
      SETTINGS = {
        address: [:string, "of this computer to listen on; 0.0.0.0 for all networks"], port: [:numeric, "to listen on"],
        paths: [:array, "files to follow, with * for any text"], command: [:string, "whose output is taken"],
        zone: [:string, "time zone of stamps that have none"], machine: [:string, "machine of lines that name none"],
        limit: [:numeric, "at most so many lines a second of one sender"],
        machines: [:numeric, "at most so many machines within an hour of one sender"]
      }.freeze

      # Options of a command that sets a source up.
      def self.settings
        option :data, DATA
        option :name, type: :string, desc: "what people call it"
        SETTINGS.each { |name, (type, text)| option name, type: type, desc: text }
      end

      desc "add KIND", "add a source: #{Intake::Live::FeedForm::ADDED.join(', ')}"
      settings
      def add(kind)
        Commands.open_or_make(options[:data])
        Intake::Live::Inlets.set_up
        given = Intake::Live::FeedForm.check_new(kind, given(kind))
        token = Intake::Live::FeedForm.token if kind == "http"
        given["token"] = Intake::Live::Inlets::Http.digest(token) if token
        feed = Store::Feed.create!(name: options[:name] || "#{kind} #{place(given)}", kind: kind, given: given,
                                   created_us: Store::Clock.now_us)
        puts "added source #{feed.id}: #{Text.line(feed.name)}"
        puts "its token, which is not told again: #{token}" if token
      end

      desc "list", "show sources, where they listen or look, and whether anything collects"
      option :data, DATA
      def list
        there
        collects = Intake::Live::Collector.running?(options[:data])
        Store::FeedReport.new(Store::Clock.now_us).feeds.each do |feed, volume, _|
          columns = [
            feed.id, feed.kind, feed.name, place(feed.given), "#{volume.day_lines} lines in 24 h", "#{feed.lost} lost",
            state(feed, collects)
          ]
          puts columns.map { |column| Text.line(column.to_s) }.join("\t")
        end
        puts "Nothing collects: start bin/northdrift serve, or collect." unless collects
      end

      desc "change ID", "change a source's settings; what is not named stays"
      settings
      def change(id)
        feed = one(id)
        given = Intake::Live::FeedForm.check(feed.kind, feed.shown.merge(given(feed.kind)))
        feed.update!(name: options[:name] || feed.name, given: given.merge(feed.given.slice("token")))
        puts "changed source #{feed.id}: #{Text.line(feed.name)}\t#{Text.line(place(feed.given))}"
      end

      {
        "pause" => [{ paused: true }, "stop taking lines from a source for now"],
        "resume" => [{ paused: false }, "go on"]
      }.each do |name, (change, text)|
        desc "#{name} ID", text
        option :data, DATA
        define_method(name) { |id| changed(id, **change) }
      end

      desc "remove ID", "remove a source; what came in by it stays"
      option :data, DATA
      def remove(id) = changed(id, deleted_us: Store::Clock.now_us)

      private

      # @return [String] where its lines come from
      def place(given)
        given["port"] ? "#{given['address']}:#{given['port']}" : given.values.first.lines(chomp: true).first
      end

      def state(feed, collects)
        return "paused" if feed.paused

        feed.problem || (collects ? "running" : "waits")
      end

      def changed(id, **change) = one(id).update!(**change)

      def one(id)
        there
        Store::Feed.present.find_by(id: id) or raise Thor::Error, "there is no source #{id}"
      end

      def given(kind)
        values =
          options
            .slice(*SETTINGS.keys.map(&:to_s))
            .merge("paths" => options[:paths]&.join("\n"))
            .compact
        values.slice(*Intake::Live::FeedForm::KINDS.fetch(kind, {}).keys).tap do |fit|
          extra = values.keys - fit.keys
          if extra.any? && Intake::Live::FeedForm::KINDS.key?(kind)
            raise Thor::Error, "a source of kind #{kind} has no --#{extra.first}"
          end
        end
      end
    end
  end
end
