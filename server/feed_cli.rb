# frozen_string_literal: true

require "thor"

module Northdrift
  module Server
    # The commands about where lines come in by themselves.
    class FeedCli < Thor
      check_unknown_options!
      def self.exit_on_failure? = true
      remove_command :tree

      desc "add KIND", "add a source: #{Intake::Live::FeedForm::KINDS.keys.join(', ')}"
      option :data, Cli::DATA
      option :name, type: :string, desc: "what people call it"
      option :address, type: :string, desc: "of this computer to listen on; 0.0.0.0 for all networks"
      option :port, type: :numeric, desc: "to listen on"
      option :paths, type: :array, desc: "files to follow, with * for any text"
      option :command, type: :string, desc: "whose output is taken"
      option :zone, type: :string, desc: "time zone of stamps that have none"
      option :machine, type: :string, desc: "machine of lines that name none"
      def add(kind)
        Store::Database.open(options[:data])
        Intake::Live::Inlets.set_up
        given = Intake::Live::FeedForm.check(kind, given(kind))
        token = Intake::Live::FeedForm.token if kind == "http"
        given["token"] = Intake::Live::Inlets::Http.digest(token) if token
        feed = Store::Feed.create!(name: options[:name] || "#{kind} #{place(given)}", kind: kind, given: given,
                                   created_us: Store::Clock.now_us)
        puts "added source #{feed.id}: #{Text.display(feed.name)}"
        puts "its token, which is not told again: #{token}" if token
      end

      desc "list", "show sources"
      option :data, Cli::DATA
      def list
        Store::Database.open(options[:data])
        Store::FeedReport.new(Store::Clock.now_us).feeds.each do |feed, volume, _|
          state = feed.paused ? "paused" : feed.problem || "running"
          columns = [feed.id, feed.kind, feed.name, "#{volume.day_lines} lines in 24 h", "#{feed.lost} lost", state]
          puts columns.map { |column| Text.display(column.to_s) }.join("\t")
        end
      end

      {
        "pause" => [{ paused: true }, "stop taking lines from a source for now"],
        "resume" => [{ paused: false }, "go on"]
      }.each do |name, (change, text)|
        desc "#{name} ID", text
        option :data, Cli::DATA
        define_method(name) { |id| changed(id, **change) }
      end

      desc "remove ID", "remove a source; what came in by it stays"
      option :data, Cli::DATA
      def remove(id) = changed(id, deleted_us: Store::Clock.now_us)

      private

      # @return [String] where its lines come from
      def place(given)
        given["port"] ? "#{given['address']}:#{given['port']}" : given.values.first.lines(chomp: true).first
      end

      def changed(id, **change)
        Store::Database.open(options[:data])
        feed = Store::Feed.present.find_by(id: id) or raise Thor::Error, "there is no source #{id}"
        feed.update!(**change)
      end

      def given(kind)
        values =
          options
            .slice("address", "port", "command", "zone", "machine")
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
