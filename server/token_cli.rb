# frozen_string_literal: true

module Northdrift
  module Server
    # The commands about what programs ask with.
    class TokenCli < Commands
      desc "add NAME", "make a token for a program; it is told once"
      option :data, DATA
      option :role, **PersonCli::ROLE
      option :days, type: :numeric, default: 90, desc: "that it holds"
      def add(name)
        Commands.open_or_make(options[:data])
        _, secret = Store::Token.make(name, role: options[:role], days: options[:days].to_i)
        puts secret
      end

      desc "list", "list tokens, what they may do and when they were used"
      option :data, DATA
      def list
        there
        Store::Token.order(:name, :id).each do |token|
          puts [token.id, token.role.ljust(13), Text.line(token.name), told(token)].join("\t")
        end
      end

      desc "remove ID", "let a token hold no more"
      option :data, DATA
      def remove(id)
        there
        (Store::Token.find_by(id: id) or raise Error, "there is no token #{Text.line(id)}").destroy!
      end

      no_commands do
        def told(token)
          used = token.used_us ? "last used #{day(token.used_us)}" : "never used"
          "#{token.expired? ? 'expired' : 'expires'} #{day(token.expires_us)}, #{used}"
        end

        def day(us) = Time.at(0, us, :microsecond, in: "UTC").strftime("%Y-%m-%d")
      end
    end
  end
end
