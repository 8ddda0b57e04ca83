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
    # @!attribute login_issuer [String] address of an OpenID Connect provider that people may log in at; empty for none
    # @!attribute login_client [String] what it knows this application as
    # @!attribute login_secret [String]
    # @!attribute login_name [String] what people call it
    # @!attribute login_role [String] of who logs in there and is not known here; empty: they are not let in
    MachineSettings =
      Struct.new(
        :follow, :commands, :forward, :proxies, :tls_cert, :tls_key, :login_issuer, :login_client, :login_secret,
        :login_name, :login_role, keyword_init: true
      )

    class MachineSettings
      FILE = "settings.yml"
      PLACE = "NORTHDRIFT_SETTINGS"
      PREFIX = "NORTHDRIFT_"
      DEFAULTS = {
        "follow" => ["/var/log"], "commands" => [], "forward" => [], "proxies" => [], "tls_cert" => "",
        "tls_key" => "", "login_issuer" => "", "login_client" => "northdrift", "login_secret" => "",
        "login_name" => "single sign-on", "login_role" => ""
      }.freeze

      # @return [MachineSettings] those of the open data folder, as the file has them now
      # @raise [Error] saying what in the file cannot be understood
      def self.current
        path = path()
        given = File.exist?(path) ? read(path) : {}
        values = DEFAULTS.to_h { |key, default| [key.to_sym, environment(key) || given[key] || default] }
        new(**values)
      end

      # @return [String] of the file
      def self.path = ENV[PLACE] || File.join(File.dirname(Database.path), FILE)

      class << self
        private

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
