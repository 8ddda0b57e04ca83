# frozen_string_literal: true

require "re2"
require "yaml"

module Northdrift
  module Reading
    # What known messages of daemons hold in prose: who logged on from where, which unit failed, whose mail was sent on.
    # The expressions are data, a file for each family (phrases/*.yml); what they take are fields of the line under the
    # names of the OpenTelemetry semantic conventions where there is one.
    class Phrases
      # Groups of the expressions, and the fields that they are.
      FIELDS = YAML.safe_load_file(File.join(__dir__, "phrases/fields.yml")).freeze
      NUMBERS = %w[
        source.port client.port server.port destination.port process.exit.code process.signal mail.size mail.recipients
        mail.delay_s dns.answers connection.count process.parent_pid user.id group.id duration_s process.memory_kb
        file.size duration_ms network.bytes http.response.status_code
      ].freeze
      NUMBER = /\A-?\d{1,18}(?:\.\d{1,9})?\z/
      WRITER = "process.pid"
      STATUS = "http.response.status_code"
      KEPT = 5000
      # As the files call it where a line names no service.
      NO_SERVICE = "-"

      # @!attribute services [Array<String>] globs; none for lines that name no service
      # @!attribute take [String] RE2 with the groups of {FIELDS}
      Phrase = Struct.new(:services, :take) do
        def regex = @regex ||= RE2::Regexp.new(take, utf8: false, log_errors: false)
        def groups = @groups ||= regex.named_capturing_groups.to_h { |name, at| [at, FIELDS.fetch(name)] }
      end

      # The phrases of one service, asked at once.
      class Several
        def initialize(phrases)
          @phrases = phrases
          @set = RE2::Set.new(:unanchored, utf8: false, log_errors: false, max_mem: 1 << 24)
          phrases.each { |phrase| @set.add(phrase.take) }
          @set.compile
        end

        # @param message [String]
        # @return [Hash{String=>String, Numeric}, nil] values by field
        def read(message)
          first = @set.match(message, exception: false).min or return
          phrase = @phrases[first]
          match = phrase.regex.match(message) or return
          phrase.groups.each_with_object({}) do |(at, name), fields|
            value = match[at]
            next if value.nil? || value.empty? || fields.key?(name)

            fields[name] = NUMBERS.include?(name) && NUMBER.match?(value) ? number(value) : value.b
          end
        end

        private

        def number(value) = value.include?(".") ? value.to_f : value.to_i
      end

      # @return [Phrases] those that ship
      def self.shipped
        @shipped ||= new(Dir[File.join(__dir__, "phrases/*.yml")].grep_v(/fields\.yml\z/).flat_map do |path|
          YAML.safe_load_file(path).fetch("phrases").flat_map do |entry|
            entry.fetch("take").map { |take| Phrase.new(entry.fetch("of"), take) }
          end
        end)
      end

      # @return [Array<Phrase>]
      attr_reader :phrases

      # @param phrases [Array<Phrase>]
      def initialize(phrases)
        @phrases = phrases
        @services = {}
        @several = {}
        @globs = globs
      end

      # What a phrase knows stands before what a reader guessed from the names of pairs; the process of the line is the
      # one that wrote it.
      # @param event [Event] gains the fields
      # @return [Event]
      def add(event)
        several = of(event.service)
        taken = several&.read(event.message)
        return event unless taken

        event.fields = event.fields.merge(taken) { |name, old, new| name == WRITER ? old : new }
        tell_severity(event, taken[STATUS]) if event.severity == Severity::UNSET && taken[STATUS]
        event
      end

      private

      def tell_severity(event, status)
        event.severity = Severity.from_http_status(status)
        event.severity_rule = "HTTP status #{status}"
      end

      # @return [Several, nil]
      def of(service)
        services = @services
        services.fetch(service) do
          # Several threads may read at once: what one of them has is never emptied.
          services = @services = {} if services.size >= KEPT
          services[service] = mine(service || NO_SERVICE)
        end
      end

      # Strangers name services as they like: those that the same globs are of share what was made once.
      def mine(service)
        wanted = @globs.match(service, exception: false).flat_map { |index| @by_glob[index] }.uniq.sort
        wanted.empty? ? nil : @several[wanted] ||= Several.new(@phrases.values_at(*wanted))
      end

      # @return [RE2::Set] of the globs of all phrases, in the order of {@by_glob}
      def globs
        globs = @phrases.flat_map(&:services).uniq
        @by_glob = globs.map { |glob| @phrases.each_index.select { |index| @phrases[index].services.include?(glob) } }
        RE2::Set.new(:anchor_both, utf8: false, log_errors: false).tap do |set|
          globs.each { |glob| set.add("(?is)#{glob.split('*', -1).map { |part| RE2::Regexp.escape(part) }.join('.*')}") }
          set.compile
        end
      end
    end
  end
end
