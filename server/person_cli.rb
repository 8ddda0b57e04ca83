# frozen_string_literal: true

require "io/console"

module Northdrift
  module Server
    # The commands about people.
    class PersonCli < Commands
      ROLE = {
        type: :string, default: "viewer",
        desc: Northdrift::People::Role::MAY.map { |role, may| "#{role}: #{may}" }.join("; ")
      }.freeze

      SIGHT = {
        type: :string, default: "",
        desc: "what they may see, of viewers and responders: a condition on #{Store::Sight::FIELDS.join(', ')}"
      }.freeze

      desc "add NAME", "add somebody; the password is asked for, or read from standard input"
      option :data, DATA
      option :role, **ROLE
      option :sight, **SIGHT
      def add(name)
        Commands.open_or_make(options[:data])
        # Before a password is asked for in vain.
        Store::Sight.of_role(options[:sight], Store::Person.role(options[:role]))
        person = Store::Person.add(name, **options.slice(:role, :sight).symbolize_keys, password: read_password)
        Intake::Live::Inlets.set_up
        puts "added #{Text.line(person.name)}, #{person.role}"
      end

      desc "list", "list people and what they may do"
      option :data, DATA
      def list
        there
        Store::Person.order(:key).each do |person|
          sees = " sees #{Text.line(person.sight)}" if person.sight
          puts "#{person.role.ljust(14)} #{Text.line(person.name)}#{' (disabled)' if person.disabled_us}#{sees}"
        end
      end

      desc "role NAME ROLE", "let somebody do more or less: #{Northdrift::People::Role::NAMES.join(', ')}"
      option :data, DATA
      def role(name, role)
        somebody(name).take_role(role)
      end

      desc "sight NAME [FIND]", "let somebody see some lines alone; everything, where nothing is said"
      option :data, DATA
      def sight(name, find = "")
        somebody(name).take_sight(find)
      end

      desc "password NAME", "set a password, and log out all browsers of the person"
      option :data, DATA
      def password(name)
        somebody(name).choose_password(read_password)
      end

      desc "factor-off NAME", "turn off the second factor of somebody who has lost it"
      option :data, DATA
      def factor_off(name)
        somebody(name).factor.end
      end

      desc "disable NAME", "let somebody log in no more"
      option :data, DATA
      def disable(name)
        somebody(name).disable
      end

      desc "enable NAME", "let somebody log in again"
      option :data, DATA
      def enable(name)
        somebody(name).enable
      end

      no_commands do
        def somebody(name)
          there
          Store::Person.named(name) or raise Error, "there is no #{Text.line(name)}"
        end

        def read_password
          return $stdin.gets.to_s.chomp unless $stdin.tty?

          IO.console.getpass("Password: ").tap do |given|
            raise Error, "the two were not the same" unless IO.console.getpass("Once more: ") == given
          end
        end
      end
    end
  end
end
