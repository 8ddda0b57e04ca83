# frozen_string_literal: true

module Northdrift
  module Standins
    # An incident that nobody wrote: somewhere in the fleet something is changed, a while later what cannot do without
    # it complains, and further up what cannot do without that; around it everybody goes on as ever, and other things
    # are changed too. For finding out whether the cause is found. A simulated stand-in.
    class MadeUpIncident
      PEOPLE = %w[ida olav berit sigrid].freeze
      # Of a sort of machine: what can be changed on it, as a tag and a text.
      CHANGES = {
        "network" => [
          [
            "CONFIG-5-CHANGED",
            "configuration changed by %<who>s from 10.40.0.31: interface vlan %<number>d, mtu 9000 -> 1500"
          ],
          [
            "CONFIG-5-CHANGED",
            "configuration changed by %<who>s from 10.40.0.31: access list %<number>d, permit any -> deny 10.40.2.0/24"
          ]
        ],
        "database" => [
          ["sudo", "%<who>s : TTY=pts/0 ; PWD=/root ; USER=root ; COMMAND=/usr/bin/vi /etc/database/limits.conf"],
          ["deploy", "deployed version 15.%<number>d of database by %<who>s"]
        ],
        nil => [
          ["deploy", "deployed version 7.%<number>d of service by %<who>s"],
          [
            "sudo",
            "%<who>s : TTY=pts/0 ; PWD=/root ; USER=root ; COMMAND=/usr/bin/systemctl restart worker%<number>d.service"
          ],
          [
            "sudo",
            "%<who>s : TTY=pts/0 ; PWD=/root ; USER=root ; COMMAND=/usr/sbin/sysctl -w net.core.somaxconn=%<number>d"
          ], ["crontab", "(%<who>s) REPLACE (%<who>s)"]
        ]
      }.freeze
      EVERYDAY = ["request %d done in %d ms", "checked %d items, %d skipped", "session %d of client %d ended"].freeze
      TROUBLE = [
        "request %<number>d failed: no answer from %<about>s after 30000 ms",
        "error: %<about>s does not answer, attempt %<attempt>d of 3"
      ].freeze

      # @return [String] machine that is in trouble, and the one where the cause is
      attr_reader :troubled, :changed
      # @return [Time] of the cause
      attr_reader :at
      # @return [Integer] unrelated changes
      attr_reader :others

      # @param roster [Array<Fleet::Roster::Machine>]
      # @param seed [Integer]
      # @param day [Time] midnight UTC of the day on which it happens
      def initialize(roster, seed:, day:)
        @random = Random.new(seed)
        @roster = roster.to_h { |one| [one.name, one] }
        edges =
          roster.flat_map do |one|
            [
              *one.needs.map { |on| Northdrift::Fleet::Dependencies::Edge.new(one.name, on, "needs") },
              *(one.runs_on && [Northdrift::Fleet::Dependencies::Edge.new(one.name, one.runs_on, "runs-on")])
            ]
          end
        @map = Northdrift::Fleet::Dependencies.new(edges)
        @day = day
        @at = day + (8 * 3600) + @random.rand(10 * 3600)
        @troubled = pick(@roster.keys.select { |name| @map.reach(name).size > 2 })
        @changed = pick(@map.reach(@troubled).keys)
        @lines = []
        make
      end

      # @return [String] lines of all machines in order of time
      def text = @lines.sort_by(&:first).map(&:last).join("\n") << "\n"

      private

      def make
        everyday
        change(@changed, @at)
        trouble
        @others = 10 + @random.rand(8)
        @others.times { change(pick(@roster.keys - [@changed]), elsewhen) }
      end

      # Half of them within the half hour before, also between the cause and what came of it.
      def elsewhen = @random.rand(2).zero? ? @at - 1800 + @random.rand(2400) : @at - (4 * 3600) + @random.rand(6 * 3600)

      def everyday
        @roster.each_key do |name|
          time = @at - (7 * 3600)
          while (time += 20 + @random.rand(160)) < @at + 5400
            add(time, name, "work", format(pick(EVERYDAY), @random.rand(9999), @random.rand(900)))
          end
          # Errors that were always there.
          3.times do
            add(@at - @random.rand(7 * 3600), name, "work", "error: cache answered 404 for item #{@random.rand(999)}")
          end
        end
      end

      def change(name, time)
        tag, text = pick(CHANGES[@roster.fetch(name).role] || CHANGES[nil])
        add(time, name, tag, format(text, who: pick(PEOPLE), number: @random.rand(1..90)))
      end

      # Along the way from the cause to the machine in trouble, each complains of what it cannot do without, a little
      # later each time.
      def trouble
        path = path_to(@troubled)
        began = @at + 15 + @random.rand(480)
        path.each_cons(2) do |below, above|
          complain(above, below, began, above == @troubled ? 40 : 12)
          began += 5 + @random.rand(60)
        end
        complain(@troubled, "itself", began, 40) if path.size == 1
      end

      def complain(name, about, began, times)
        times.times do |index|
          text = format(pick(TROUBLE), number: @random.rand(9999), about: about, attempt: (index % 3) + 1)
          add(began + (index * 7) + @random.rand(6), name, "work", text)
        end
      end

      # @return [Array<String>] from the machine where the cause is to the one in trouble
      def path_to(name)
        return [name] if name == @changed

        steps = @map.reach(name)
        below =
          @map
            .below(name)
            .select { |one| @map.reach(one).key?(@changed) }
            .min_by { |one| [@map.reach(one)[@changed], steps[one], one] }
        [*path_to(below), name]
      end

      def add(time, name, tag, text)
        return @lines << [time, Demo::Forms.device(time, name, tag, text)] if tag.include?("-")

        @lines << [
          time,
          Demo::Forms.iso(
            time, name, tag, text, pid: tag == "sudo" || tag == "crontab" ? nil : 100 + @random.rand(9000)
          )
        ]
      end

      def pick(list) = list[@random.rand(list.size)]
    end
  end
end
