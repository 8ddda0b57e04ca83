# frozen_string_literal: true

require "yaml"

module Northdrift
  module Store
    # What whoever has a shell on this computer says of the pages, and allows them to do to it: a YAML file in the data
    # folder, or the one that {PLACE} names. A variable of the environment, such as NORTHDRIFT_FOLLOW, takes the place
    # of a key; its values stand between commas.
    # @!attribute follow [Array<String>] folders whose files may be followed
    # @!attribute commands [Array<String>] commands whose output may be taken in
    # @!attribute forward [Array<String>] names, addresses and networks inside that lines may be sent on to
    # @!attribute proxies [Array<String>] addresses and networks of proxies that tell truly who asks
    # @!attribute tls_cert [String] path of the pages' certificate; empty for none
    # @!attribute tls_key [String] path of its key
    # @!attribute programs [String] folder with the programs that alerts may be told to; empty for none
    # @!attribute address [String] of the pages, as links in messages have it; empty for the one that it listens at
    # @!attribute mail_server [String] host and port of what takes mail; empty for none
    # @!attribute mail_tls [String] one of {MAIL_TLS}
    # @!attribute mail_from [String] address that messages come from
    # @!attribute mail_user [String] of a login there; empty for none
    # @!attribute mail_password [String]
    # @!attribute login_issuer [String] address of an OpenID Connect provider that people may log in at; empty for none
    # @!attribute login_client [String] what it knows this application as
    # @!attribute login_secret [String]
    # @!attribute login_name [String] what people call it
    # @!attribute login_role [String] of who logs in there and is not known here; empty: they are not let in
    MachineSettings =
      Struct.new(
        :follow, :commands, :forward, :proxies, :programs, :address, :mail_server, :mail_tls, :mail_from, :mail_user,
        :mail_password, :tls_cert, :tls_key, :login_issuer, :login_client, :login_secret, :login_name, :login_role,
        keyword_init: true
      )

    class MachineSettings
      FILE = "settings.yml"
      PLACE = "NORTHDRIFT_SETTINGS"
      PREFIX = "NORTHDRIFT_"
      DEFAULTS = {
        "follow" => ["/var/log"], "commands" => [], "forward" => [], "proxies" => [], "programs" => "",
        "address" => "", "mail_server" => "", "mail_tls" => "if offered", "mail_from" => "", "mail_user" => "",
        "mail_password" => "", "tls_cert" => "", "tls_key" => "", "login_issuer" => "",
        "login_client" => "northdrift", "login_secret" => "", "login_name" => "single sign-on", "login_role" => ""
      }.freeze
      SAYS = {
        "follow" => "folders whose files administrators may follow",
        "commands" => "commands that administrators may set up as sources",
        "forward" => "addresses inside that lines may be sent on to, and alerts told to",
        "proxies" => "proxies that say who asks (X-Forwarded-For, X-Forwarded-Proto)",
        "programs" => "folder with the programs that alerts may be told to",
        "address" => "address of the pages in messages", "mail_server" => "what takes mail, such as mail.example:587",
        "mail_tls" => "encryption on the way there: always, if offered, from the start or never",
        "mail_from" => "address that messages come from", "mail_user" => "login there",
        "mail_password" => "the password that goes with it", "tls_cert" => "certificate of the pages",
        "tls_key" => "its key",
        "login_issuer" => "OpenID Connect provider to log in at", "login_client" => "what it knows Northdrift as",
        "login_secret" => "the secret that goes with it", "login_name" => "what the login page calls it",
        "login_role" => "role of who logs in there and is not known here"
      }.freeze
      # Told to nobody.
      SECRET = %w[login_secret mail_password].freeze
      HIDDEN = "•••"
      # Encryption of mail: by STARTTLS (RFC 3207) or from the first byte on (RFC 8314).
      MAIL_TLS = ["always", "if offered", "from the start", "never"].freeze

      # @return [MachineSettings] those of the open data folder, as the file has them now
      # @raise [Error] saying what in the file cannot be understood
      def self.current
        new(**found.to_h { |key, (value, _)| [key.to_sym, value] })
      end

      # @return [Array<Hash>] "name", "says", "value" (Array<String>) and "from": environment, file or default
      # @raise [Error]
      def self.entries
        found.map do |key, (value, from)|
          value = Array(value).reject(&:empty?)
          value = value.map { HIDDEN } if SECRET.include?(key)
          { "name" => key, "says" => SAYS.fetch(key), "value" => value, "from" => from }
        end
      end

      # @return [String] of the file
      def self.path = ENV[PLACE] || File.join(File.dirname(Database.path), FILE)

      class << self
        private

        # @return [Hash{String=>Array(Object, String)}] each value, and where it is from
        def found
          path = path()
          given = File.exist?(path) ? read(path) : {}
          DEFAULTS.to_h do |key, default|
            outer = environment(key)
            next [key, [outer, "environment"]] if outer

            [key, given.key?(key) ? [given[key], "file"] : [default, "default"]]
          end
        end

        def read(path)
          given = YAML.safe_load_file(path) || {}
          raise Error, "#{path}: there must be keys with values" unless given.is_a?(Hash)

          given.each { |key, value| check(path, key, value) }
        rescue Psych::Exception => error
          raise Error, "#{path}: #{error.message}"
        end

        def check(path, key, value)
          unless DEFAULTS.key?(key)
            raise Error,
                  "#{path}: there is no setting “#{Text.display(key.to_s)}”; there are #{DEFAULTS.keys.join(', ')}"
          end
          return if DEFAULTS[key].is_a?(String) && value.is_a?(String)
          return if DEFAULTS[key].is_a?(Array) && value.is_a?(Array) && value.all?(String)

          raise Error, "#{path}: #{key} is a #{DEFAULTS[key].is_a?(Array) ? 'list of texts' : 'text'}"
        end

        def environment(key)
          value = ENV.fetch("#{PREFIX}#{key.upcase}", nil) or return
          DEFAULTS[key].is_a?(Array) ? value.split(",").map(&:strip) : value
        end
      end

      # @param path [String] absolute, with or without patterns
      # @return [Boolean] whether files may be followed there: it names a folder that is allowed, and leads out of none
      def follow?(path)
        !path.split("/").include?("..") && follow.any? { |folder| path.start_with?("#{folder.chomp('/')}/") }
      end
    end
  end
end
