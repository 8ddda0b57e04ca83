# frozen_string_literal: true

module Northdrift
  module Server
    # The commands about teams.
    class TeamCli < Commands
      SIGHT = {
        type: :string, default: "",
        desc: "what its viewers and responders may see: a condition on #{Store::Sight::FIELDS.join(', ')}"
      }.freeze

      desc "add NAME [PERSON…]", "make a team of some people"
      option :data, DATA
      option :sight, **SIGHT
      def add(name, *people)
        there
        Store::Team.add(name, sight: options[:sight], people: people.map { |one| somebody(one) })
      end

      desc "list", "list teams, who is in them and what they see"
      option :data, DATA
      def list
        there
        Store::Team.includes(:people).order(:key).each do |team|
          puts [
            Text.line(team.name), team.people.map { |one| Text.line(one.name) }.join(", "),
            team.sight && "sees #{Text.line(team.sight)}"
          ].compact.join("\t")
        end
      end

      desc "members NAME [PERSON…]", "say who is in a team, in the place of those who are"
      option :data, DATA
      def members(name, *people)
        team(name).set(people: people.map { |one| somebody(one) })
      end

      desc "sight NAME [FIND]", "let its members see some lines alone; where nothing is said, it limits nothing"
      option :data, DATA
      def sight(name, find = "")
        team(name).set(sight: find)
      end

      desc "remove NAME", "remove a team that owns nothing"
      option :data, DATA
      def remove(name)
        team(name).remove
      end

      no_commands do
        def team(name)
          there
          Store::Team.named(name) or raise Error, "there is no team #{Text.line(name)}"
        end

        def somebody(name)
          Store::Person.named(name) or raise Error, "there is no #{Text.line(name)}"
        end
      end
    end
  end
end
