# frozen_string_literal: true

module Northdrift
  module Server
    # The commands about what programs ask with.
    class TokenCli < Commands
      desc "add NAME", "make a token for a program; it is told once"
      option :data, DATA
      option :role, **PersonCli::ROLE
      option :sight, **PersonCli::SIGHT
      option :days, type: :numeric, default: 90, desc: "that it holds"
      def add(name)
        Commands.open_or_make(options[:data])
        given = options.slice(:role, :sight).symbolize_keys
        _, secret = Store::Token.make(name, **given, days: options[:days].to_i)
        puts secret
      end

      desc "list", "list tokens, what they may do and when they were used"
      option :data, DATA
      def list
        there
        Store::Token.order(:name, :id).each do |token|
          sees = token.sight && "sees #{Text.line(token.sight)}"
          puts [token.id, token.role.ljust(13), Text.line(token.name), told(token), sees].compact.join("\t")
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
