# frozen_string_literal: true

require "re2"

module Northdrift
  module Logbook
    # Reads one sort of happening out of events.
    class Rule
      # Kinds, as people see them.
      KINDS = {
        "machine-start" => "machine start", "machine-stop" => "machine stop", "machine-restart" => "machine restart", "machine-crash" => "machine crash",
        "service-start" => "service start", "service-stop" => "service stop", "service-failure" => "service failure", "restart-loop" => "restart loop",
        "memory-kill" => "memory kill", "hardware" => "hardware fault", "disk" => "disk and file system", "change" => "configuration change", "package" => "package or update",
        "account" => "account and privilege", "logon" => "logon", "logon-failure" => "failed logon", "link" => "link or neighbour", "address" => "address or name service",
        "clock" => "clock", "certificate" => "certificate", "log-cleared" => "log cleared"
      }.freeze
      BLANK = /\{([\w.]+)\}/
      NOTHING = "(not told)"

      # @return [String]
      attr_reader :id, :kind, :source, :mark
      # @return [Array<String>] lines that it must read
      attr_reader :samples

      # @param values [Hash{String=>Object}] id, kind, find, mark (a text that each such line holds, as it stands), take (RE2 with
      #   named groups, on the message), says, source, samples, and severity where it is not the line's
      # @raise [Find::Mistake, KeyError]
      def initialize(values)
        @id, @kind, @source, @mark, @says = values.fetch_values("id", "kind", "source", "mark", "says")
        raise KeyError, "there is no kind #{@kind}" unless KINDS.key?(@kind)

        @samples = values.fetch("samples")
        @matcher = Find::Matcher.new(Find::Parser.parse(values.fetch("find")))
        @take = values["take"] && RE2::Regexp.new(values["take"], log_errors: false)
        raise KeyError, "#{@id}: #{@take.error}" if @take && !@take.ok?

        @severity = values["severity"] && Severity::NAMES.index(values["severity"])
      end

      # @param event [Event]
      # @param subject [Find::Matcher::Subject] the event as conditions look at it
      # @return [Happening, nil]
      def read(event, subject)
        return unless @matcher.match?(subject)

        taken = take(subject.message)
        return if taken.nil?

        values = subject.fields.call.merge(taken)
        fields = @says.scan(BLANK).flatten.to_h { |name| [name, values[name].to_s] }.reject { |_, value| value.empty? }
        Happening.new(@id, @kind, @severity || event.severity, event.machine, event.service, @says.gsub(BLANK) { Text.display(fields[Regexp.last_match(1)] || NOTHING) }, fields)
      end

      private

      # @return [Hash{String=>String}, nil] nil when the message is not as the rule wants it
      def take(message)
        return {} unless @take

        match = @take.match(message) or return
        @take.named_capturing_groups.to_h { |name, number| [name, match[number].to_s] }
      end
    end
  end
end
