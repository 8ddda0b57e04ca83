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
        from_us, to_us = opened
        story = Store::Story.new(
          from_us: from_us, to_us: to_us, kinds: kinds, machines: options[:host]&.split(","),
          least: options[:least] && Severity::NAMES.index(options[:least])
        )
        entries = story.entries(most: options[:limit].to_i)
        exit Cli::NOTHING if entries.empty?
        return objects(entries.map { |one| Present::Logbook.happening(one.happening, one.outcome) }) if json?

        entries.each { |one| puts entry(one.happening) }
      end

      def print_restarts
        from_us, to_us = opened
        found = Store::Restarts.new(from_us: from_us, to_us: to_us, machine: options[:host]).found(
          most: options[:limit].to_i
        )
        exit Cli::NOTHING if found.empty?
        return objects(found.map { |one| Present::Logbook.restart(one) }) if json?

        found.each { |one| print_restart(one) }
      end

      def print_restart(found)
        verdict = found.verdict
        what = [verdict.machine, verdict.service].compact.map { |name| Text.line(name) }.join(", ")
        away = found.away_us ? ", back after #{span(found.away_us)}" : ""
        puts "#{moment(verdict.start.time_us)}  #{what}#{away}: #{Text.line(verdict.says)} (#{verdict.confidence})"
        verdict.evidence.each { |one| puts "    for      #{entry(one)}" }
        verdict.against.each { |one| puts "    against  #{entry(one)}" }
        verdict.missing.each { |text| puts "    missing  #{Text.line(text)}" }
      end

      def print_causes(text)
        event = ask(text).page(limit: 1).events.first or exit(Cli::NOTHING)
        changes = Store::ChangesBefore.new(
          at_us: event.time_us, machine: event.machine, pattern: event.pattern, besides: event.id
        )
        candidates = changes.candidates.first(options[:limit].to_i)
        return objects(candidates.map { |one| Present::Logbook.candidate(one) }) if json?

        machine = Text.line(event.machine || "-")
        puts "#{moment(event.time_us)}  #{machine}  #{Text.line(event.message.lines.first.to_s.chomp)}"
        puts "The trouble began at #{moment(changes.onset.at_us)}."
        puts "No known change was logged before." if candidates.empty?
        candidates.each.with_index(1) { |one, place| puts candidate(one, place) }
      end

      def candidate(one, place)
        before = one.before_us.negative? ? "at the same time" : "#{span(one.before_us)} before"
        format(
          CANDIDATE,
          place: place, says: Text.line(one.happening.says), machine: Text.line(one.happening.machine || "-"),
          before: before, where: WHERE.fetch(one.where)
        )
      end

      def entry(one)
        format(
          ENTRY,
          time: moment(one.time_us), severity: Severity.name(one.severity),
          machine: [one.machine, one.service].compact.map { |name| Text.line(name) }.join("/"),
          says: Text.line(one.says)
        )
      end

      def objects(found) = Report.objects(found, $stdout)

      def opened
        there
        bounds
      end

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
