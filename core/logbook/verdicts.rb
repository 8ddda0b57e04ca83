# frozen_string_literal: true

require "yaml"

module Northdrift
  module Logbook
    # Why machines and services started, from what the logbook has. The reasoning is data (verdicts.yml): happenings
    # near a start speak for reasons with a weight, or against them. Where the best reason has little weight, or another
    # nearly as much, the answer is that it is not known.
    class Verdicts
      RULES = YAML.safe_load_file(File.join(__dir__, "verdicts.yml")).freeze
      UNKNOWN = "unknown"
      UNTOLD = "it cannot be said from these lines"
      # Of a service that started again, though nothing said that it had ended, where nothing else speaks for a reason.
      UNENDED = "unended"
      # Kind of what a service says of its end.
      ORDERLY = "service-stop"
      # Several lines tell of one start, unless there was an end between them, or one of them comes again so much later:
      # less is the same in another file.
      SAME_US = 300_000_000
      AGAIN_US = 1_000_000
      # A start so soon behind a reload is part of that.
      RELOAD_US = 2_000_000
      # A service that starts so long after it ended was started anew.
      ENDED_US = 1_800_000_000
      OWN = ->(_, service) { "service.name = \"#{service}\"" }
      LEAST = 4
      MARGIN = 2
      SURE = 5

      # @!attribute reason [String]
      # @!attribute weight [Integer]
      # @!attribute refuted [Boolean] whether something speaks against it
      Weighed = Struct.new(:reason, :says, :weight, :refuted)

      # What would settle it: the lines of a machine that a find text finds.
      # @!attribute machine [String, nil] nil when it is not known which
      Look = Struct.new(:says, :machine, :find)

      # @!attribute machine [String]
      # @!attribute service [String, nil]
      # @!attribute start [#time_us] happening that tells the start
      # @!attribute began_us [Integer] the first that was told of the start
      # @!attribute reason [String] key of the reasons, or {UNKNOWN}
      # @!attribute says [String]
      # @!attribute person [String, nil] who is named
      # @!attribute confidence [String] sure, likely, or none
      # @!attribute evidence [Array] happenings that speak for it
      # @!attribute against [Array] happenings that speak against other reasons that were thought of
      # @!attribute weighed [Array<Weighed>] all reasons that anything speaks for, the heaviest first
      # @!attribute missing [Array<String>] what is not there though it would be told, in words
      # @!attribute look [Array<Look>] what would settle it
      Verdict =
        Struct.new(
          :machine, :service, :start, :began_us, :reason, :says, :person, :confidence, :evidence, :against, :weighed,
          :missing, :look, keyword_init: true
        )

      LISTS = %w[starts start_kinds without ends announce reloads names].freeze

      # What is started: its starts, evidence, and where to look next.
      Sort = Struct.new(*LISTS.map(&:to_sym), :evidence, :against, :look) do
        def self.of(values)
          evidence, against =
            values.values_at("evidence", "against").map { |clues| clues.map { |clue| Clue.new(clue) } }
          new(*LISTS.map { |name| values.fetch(name, []) }, evidence, against, values.fetch("look"))
        end

        # @return [Boolean] whether a happening tells a start
        def start?(one)
          starts.include?(one.rule) || (start_kinds.include?(one.kind) && !without.include?(one.rule))
        end

        def rules = [*evidence, *against].flat_map(&:rules) | starts | reloads
      end

      MACHINE = Sort.of(RULES.fetch("machine"))
      SERVICE = Sort.of(RULES.fetch("service"))

      # @return [Array<String>] ids of the rules whose happenings it needs
      def self.rules = MACHINE.rules | SERVICE.rules

      # @return [Array<String>] kinds of happenings that it needs beside those
      def self.kinds = SERVICE.ends | SERVICE.start_kinds

      # @param happenings [Array<#time_us, #rule, #kind, #machine, #service, #fields, #says>]
      # @param hosts [#[]] the host that a machine runs on
      # @param gathered [#call] takes a machine and two moments (microseconds); whether its platform's audit trail was
      #   gathered between them
      # @param own [#call] takes a start and the name of its service; a find text for its own lines
      def initialize(happenings, hosts: {}, gathered: ->(*) { false }, own: OWN)
        # Stamps of whole seconds are alike: what was told first stays first.
        @happenings = happenings.sort_by.with_index { |one, index| [one.time_us, index] }
        @order = {}.compare_by_identity
        @happenings.each_with_index { |one, index| @order[one] = index }
        @by_rule = @happenings.group_by(&:rule)
        @hosts = hosts
        @gathered = gathered
        @own = own
      end

      # @return [Array<Subject>] machines and services that started, in order of time
      def starts = @starts ||= (machine_starts + service_starts).sort_by(&:start_us)

      # @param subjects [Array<Subject>] of {starts}
      # @return [Array<Verdict>] on them
      def all(subjects = starts) = subjects.map { |subject| verdict(subject, subject.service ? SERVICE : MACHINE) }

      # @return [Array<Verdict>]
      def machines = all(machine_starts)

      # @return [Array<Verdict>] of services that had ended before, or had started before
      def services = all(service_starts)

      # @return [Array<Subject>]
      def machine_starts
        told(MACHINE)
          .group_by(&:machine)
          .values
          .flat_map { |own| each_start(own).map(&:first) }
          .map { |start| Subject.new(start, host: @hosts[start.machine]) }
      end

      private

      def service_starts
        reloads = SERVICE.reloads.flat_map { |rule| @by_rule.fetch(rule, []) }.group_by { |one| service_of(one) }
        starts = told(SERVICE).group_by { |one| service_of(one) }
        ends = @happenings.select { |one| SERVICE.ends.include?(one.kind) }.group_by { |one| service_of(one) }
        starts.flat_map do |service, own|
          ended = ends.fetch(service, [])
          service_subjects(each_start(without(own, reloads.fetch(service, [])), ended), ended)
        end.select(&:service)
      end

      # @param starts [Array<Array<#time_us>>] of one service, see {each_start}
      # @param ends [Array<#time_us>] of it
      def service_subjects(starts, ends)
        told = Set.new
        before = nil
        starts.filter_map do |lines|
          again = lines.any? { |one| told.include?(one.rule) }
          told.merge(lines.map(&:rule))
          first = lines.first
          unended = again && !between?(ends, before, first) && tells_ends?(ends)
          before = lines.last
          next unless again || within(ends, first.time_us - ENDED_US, first.time_us).any? { before?(_1, first) }

          Subject.new(first, names: SERVICE.names, host: @hosts[first.machine], unended: unended)
        end
      end

      # That it is silent at its end says something only of what is not silent at others.
      def tells_ends?(ends) = ends.any? { |one| one.kind == ORDERLY }

      def without(starts, reloads)
        starts.reject { |one| within(reloads, one.time_us - RELOAD_US, one.time_us).any? }
      end

      def service_of(happening) = [happening.machine, Subject.service(happening, SERVICE.names)]

      # @param list [Array<#time_us>] in order of time
      # @return [Array<#time_us>] those between two moments; there may be very many of them before and after
      def within(list, from_us, to_us)
        first = list.bsearch_index { |one| one.time_us >= from_us } or return []
        last = list.bsearch_index { |one| one.time_us > to_us } || list.size
        list[first...last]
      end

      def near(clue, rule, subject) = within(@by_rule.fetch(rule, []), *clue.window(subject.start_us))

      def told(sort) = @happenings.select { |one| one.machine && sort.start?(one) }

      # @return [Array<Array<#time_us>>] what is told of each start
      def each_start(own, ends = [])
        own.each_with_object([]) do |one, starts|
          lines = starts.last
          lines && same?(lines, one, ends) ? lines << one : starts << [one]
        end
      end

      def same?(lines, one, ends)
        last = lines.last
        one.time_us - last.time_us <= SAME_US && (SERVICE.announce.include?(last.rule) || !between?(ends, last, one)) &&
          lines.none? { |line| line.rule == one.rule && one.time_us - line.time_us >= AGAIN_US }
      end

      def before?(one, other) = @order[one] < @order[other]

      def between?(ends, first, last)
        within(ends, first.time_us, last.time_us).any? { |one| before?(first, one) && before?(one, last) }
      end

      def verdict(subject, sort)
        found = matching(sort.evidence, subject)
        # A line speaks for the reason that says most of it.
        found = found.group_by(&:last).map { |_, pairs| pairs.max_by { |clue, _| clue.weight } }
        absent = sort.evidence.select { |clue| absent?(clue, subject) }
        against = matching(sort.against, subject)
        decide(subject, sort, weigh(found, absent, against), found, absent, against)
      end

      def matching(clues, subject)
        clues
          .select(&:rule)
          .flat_map do |clue|
            near(clue, clue.rule, subject)
              .select { |happening| clue.speaks?(happening, subject) }
              .map { |happening| [clue, happening] }
          end
      end

      # There is none, and it would have been told.
      def absent?(clue, subject)
        return false unless clue.absent && subject.host
        unless clue.needs.any? { |rule| near(clue, rule, subject).any? { |one| one.machine == subject.machine } }
          return false
        end

        clue.absent.none? { |rule| near(clue, rule, subject).any? { |one| subject.names?(one) } } &&
          @gathered.call(subject.host, *clue.window(subject.start_us))
      end

      def weigh(found, absent, against)
        sums =
          found.group_by { |clue, _| clue.reason }.transform_values { |pairs| pairs.map(&:first).uniq.sum(&:weight) }
        absent.each { |clue| sums[clue.reason] = sums.fetch(clue.reason, 0) + clue.weight }
        refuted = against.map { |clue, _| clue.reason }
        sums
          .map { |reason, weight| Weighed.new(reason, RULES.dig("reasons", reason), weight, refuted.include?(reason)) }
          .sort_by { |one| [one.refuted ? 1 : 0, -one.weight] }
      end

      def decide(subject, sort, weighed, found, absent, against)
        best, second = weighed.reject(&:refuted)
        known = best && best.weight >= LEAST && best.weight - (second ? second.weight : 0) >= MARGIN
        evidence = found.select { |clue, _| !known || clue.reason == best.reason }.map(&:last).uniq
        reason = if known
          best.reason
        else
          subject.unended ? UNENDED : UNKNOWN
        end
        Verdict.new(
          machine: subject.machine, service: subject.service, start: subject.start, began_us: began(subject, found),
          reason: reason, says: RULES.fetch("reasons").fetch(reason, UNTOLD),
          person: known ? evidence.filter_map(&:person).first : nil,
          confidence: confidence(known && best, reason), evidence: evidence,
          against: against.map(&:last).uniq - evidence, weighed: weighed,
          missing:
            absent.any? ? ["the audit trail of #{subject.host} was gathered at the time and has no word of it"] : [],
          look: known ? [] : sort.look.map { |one| look(one, subject) }
        )
      end

      def confidence(best, reason)
        return reason == UNKNOWN ? "none" : "likely" unless best

        best.weight > SURE ? "sure" : "likely"
      end

      def began(subject, found)
        [subject.start, *found.select { |clue, _| clue.at_start? }.map(&:last)].map(&:time_us).min
      end

      def look(values, subject)
        machine = values["where"] == "host" ? subject.host : subject.machine
        find = values["where"] == "unit" ? @own.call(subject.start, subject.service) : values["find"]
        Look.new(values["says"], machine, find)
      end
    end
  end
end
