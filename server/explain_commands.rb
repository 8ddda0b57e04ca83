# frozen_string_literal: true

module Northdrift
  module Server
    # Commands that print what the pages Logbook, Restarts and “What changed before?” show.
    module ExplainCommands
      # Columns of an entry: what it takes of a happening.
      ENTRY = "%<time>s  %<severity>-13s %<machine>-16s %<says>s"
      CANDIDATE = "%<place>3d. %<says>s — %<machine>s, %<before>s, %<where>s"
      WHERE = { "here" => "on the machine itself", "below" => "it depends on that machine", "beside" => "beside it",
                "elsewhere" => "elsewhere" }.freeze

      # @param commands [Class] a Thor
      def self.included(commands)
        commands.class_eval do
          desc "logbook", "print what happened to the machines, as their lines tell it, oldest first"
          window_options
          option :kind, type: :string, desc: "kinds, with commas; without it: all"
          option :host, type: :string, desc: "machines, with commas; without it: all"
          option :least, type: :string, enum: Severity::NAMES, desc: "severity; what is less bad is left out"
          option :limit, type: :numeric, default: 200, desc: "at most so many of the latest"
          option :as, type: :string, default: "table", enum: %w[table json], desc: "form of the output"
          def logbook = print_logbook

          desc "restarts", "print why machines and services started, each with its evidence"
          window_options
          option :host, type: :string, desc: "one machine"
          option :limit, type: :numeric, default: 50, desc: "at most so many of the latest"
          option :as, type: :string, default: "table", enum: %w[table json], desc: "form of the output"
          def restarts = print_restarts

          desc "why 'FIND TEXT'", "print what changed before the first matching line of the window, likeliest first"
          window_options
          option :limit, type: :numeric, default: 10, desc: "at most so many"
          option :as, type: :string, default: "table", enum: %w[table json], desc: "form of the output"
          def why(text = "severity >= error") = print_causes(text)
        end
      end

      private

      def print_logbook
        entries = asker.logbook(
          window, kinds: kinds, machines: options[:host]&.split(","), least: options[:least],
                  limit: options[:limit].to_i
        )
        exit Cli::NOTHING if entries.empty?
        return objects(entries) if json?

        entries.each { |one| puts entry(one) }
      end

      def print_restarts
        found = asker.restarts(window, machine: options[:host], limit: options[:limit].to_i)
        exit Cli::NOTHING if found.empty?
        return objects(found) if json?

        found.each { |one| print_restart(one) }
      end

      def print_restart(found)
        what = found.values_at("machine", "service").compact.map { |name| Text.line(name) }.join(", ")
        heard_us = found["last_heard_us"]
        away = heard_us ? ", back after #{span(found['start_us'] - heard_us)}" : ""
        puts "#{moment(found['start_us'])}  #{what}#{away}: #{Text.line(found['says'])} (#{found['confidence']})"
        found["evidence"].each { |one| puts "    for      #{entry(one)}" }
        found["against"].each { |one| puts "    against  #{entry(one)}" }
        found["missing"].each { |text| puts "    missing  #{Text.line(text)}" }
      end

      def print_causes(text)
        line = asked(text) { asker.first(text, window) } or exit(Cli::NOTHING)
        causes = asker.causes(line)
        candidates = causes["candidates"].first(options[:limit].to_i)
        return objects(candidates) if json?

        message = Text.line(line["message"].lines.first.to_s.chomp)
        puts "#{moment(line['time_us'])}  #{Text.line(line['machine'] || '-')}  #{message}"
        puts "The trouble began at #{moment(causes['onset_us'])}."
        puts "No known change was logged before." if candidates.empty?
        candidates.each.with_index(1) { |one, place| puts candidate(one, place) }
      end

      def candidate(one, place)
        happening, before_us = one.values_at("happening", "before_us")
        format(
          CANDIDATE,
          place: place, says: Text.line(happening["says"]), machine: Text.line(happening["machine"] || "-"),
          before: before_us.negative? ? "at the same time" : "#{span(before_us)} before", where: WHERE.fetch(one["whe" \
                                                                                                                 "re"])
        )
      end

      def entry(one)
        format(
          ENTRY,
          time: moment(one["time_us"]), severity: Severity.name(one["severity"]),
          machine: one.values_at("machine", "service").compact.map { |name| Text.line(name) }.join("/"),
          says: Text.line(one["says"])
        )
      end

      def objects(found) = Report.objects(found, $stdout)

      def kinds
        kinds = options[:kind].to_s.split(",")
        unknown = kinds.find { |kind| !Logbook::Rule::KINDS.key?(kind) } or return kinds
        raise Error, "there is no kind “#{Text.line(unknown)}”; there are #{Logbook::Rule::KINDS.keys.join(', ')}"
      end

      def moment(micros)
        TZInfo::Timezone.get(options[:zone]).to_local(Time.at(0, micros, :microsecond, in: "UTC")).strftime("%F %T.%L")
      end

      def span(micros) = Measure::Units.text(micros / 1_000_000.0, "s")
    end
  end
end
