# frozen_string_literal: true

require "re2"

module Northdrift
  module Logbook
    # Reads one sort of happening out of events.
    class Rule
      # Kinds, as people see them.
      KINDS = {
        "machine-start" => "machine start", "machine-stop" => "machine stop", "machine-restart" => "machine restart",
        "machine-crash" => "machine crash", "service-start" => "service start", "service-stop" => "service stop",
        "service-failure" => "service failure", "service-crash" => "service crash", "restart-loop" => "restart loop",
        "memory-kill" => "memory kill", "hardware" => "hardware fault", "disk" => "disk and file system",
        "change" => "configuration change", "package" => "package or update", "platform" => "platform operation",
        "account" => "account and privilege", "logon" => "logon", "logon-failure" => "failed logon",
        "link" => "link or neighbour", "address" => "address or name service", "clock" => "clock",
        "certificate" => "certificate", "log-cleared" => "log cleared or lost", "silence" => "silence",
        "volume" => "volume out of its usual"
      }.freeze
      BLANK = /\{([\w.]+)\}/
      NOTHING = "(not told)"
      # What stands in brackets is left out where a blank in it has nothing.
      OPTIONAL = /\[[^\[\]]*\{[\w.]+\}[^\[\]]*\]/
      # The name of the person, where a rule does not call it otherwise.
      PERSON = "who"

      # @return [String] id; and kind, see {KINDS}
      attr_reader :id, :kind
      # @return [String] a text that each of its lines holds, as it stands; nil for rules of people
      attr_reader :mark
      # @return [String] its condition in the find language
      attr_reader :find
      # @return [String, nil] RE2 with named groups, on the message
      attr_reader :take
      # @return [String] what it says, with blanks in braces
      attr_reader :says
      # @return [Integer, nil] severity code; nil for that of the line
      attr_reader :severity
      # @return [String] where its form is published
      attr_reader :source
      # @return [Array<String>] records that it must read
      attr_reader :samples

      # @param values [Hash{String=>Object}] id, kind, says, and mark or find; further take, person (the blank that is
      #   one), operation (the field with the id of an operation), keep (fields that are kept beside those that it
      #   says), service (that it is about, where its lines do not say it or say a part), source, samples, and severity
      #   where it is not the line's
      # @param where [String, nil] what holds for its whole family, as a find text
      # @raise [Rules::Mistake]
      def initialize(values, where: nil)
        @id, @kind, @says = values.fetch_values("id", "kind", "says")
        unless KINDS.key?(@kind)
          raise Rules::Mistake.new(
            "kind", "there is no kind “#{Text.display(@kind)}”; there are #{KINDS.keys.join(', ')}"
          )
        end
        raise Rules::Mistake.new("says", "say in words what happened") if @says.strip.empty?

        @mark = values["mark"]
        @source = values["source"].to_s
        @samples = values["samples"] || []
        @person = values["person"] || PERSON
        @operation = values["operation"]
        @keep = values["keep"] || []
        @service = values["service"]
        @severity = severity_of(values["severity"])
        @find =
          [where, @mark && holding(@mark), values["find"]].compact.then do |parts|
            parts.size > 1 ? parts.map { |part| "(#{part})" }.join(" ") : parts.first.to_s
          end
        @matcher = Find::Matcher.new(parsed(@find))
        @take = values["take"].to_s.empty? ? nil : values["take"]
        @groups = @take ? groups(@take) : {}
      end

      # @param event [Event]
      # @param subject [Find::Matcher::Subject] the event as conditions look at it
      # @return [Happening, nil]
      def read(event, subject)
        return unless @matcher.match?(subject)

        taken = taken(subject.message)
        return if taken.nil?

        values = subject.fields.call.merge(taken)
        fields =
          (blanks | @keep).to_h { |name| [name, values[name].to_s] }.merge(taken).reject { |_, value| value.empty? }
        Happening.new(
          @id, @kind, @severity || event.severity, event.machine, @service || event.service,
          words(fields), fields,
          values[@person].to_s.then { |name| name.empty? ? nil : name }, *operation(values)
        )
      end

      private

      def blanks = @blanks ||= @says.scan(BLANK).flatten

      def words(fields)
        @says.gsub(OPTIONAL) { |part| part.scan(BLANK).flatten.all? { |name| fields[name] } ? part[1..-2] : "" }
          .gsub(BLANK) { Text.display(fields[Regexp.last_match(1)] || NOTHING) }
      end

      def severity_of(name)
        return if name.nil? || name == ""

        Severity::NAMES.index(name) or
          raise Rules::Mistake.new(
            "severity", "there is no severity “#{Text.display(name)}”; there are #{Severity::NAMES.join(', ')}"
          )
      end

      def holding(text) = "text ~ /#{text.gsub(/[^\w\s:;,<>="'%@&#!-]/) { |sign| "\\#{sign}" }}/"

      def parsed(find)
        raise Rules::Mistake.new("find", "say which lines tell it") if find.strip.empty?

        Find::Parser.parse(find)
      rescue Find::Mistake => error
        raise Rules::Mistake.new("find", error.message)
      end

      def groups(take)
        @regex = RE2::Regexp.new(take, log_errors: false, max_mem: 1 << 22)
        raise Rules::Mistake.new("take", "the expression cannot be used: #{@regex.error}") unless @regex.ok?

        @regex.named_capturing_groups
      end

      # @return [Hash{String=>String}, nil] nil when the message is not as the rule wants it
      def taken(message)
        return {} unless @regex

        match = @regex.match(message) or return
        @groups.transform_values { |number| match[number].to_s }
      end

      # @return [Array(String, String), nil] id of the operation, and the phase of it that the event tells
      def operation(values)
        id = @operation && values[@operation] or return
        around = @operation[/\A.*\.|\A/]
        phase = values["#{around}first"] && !values["#{around}last"] ? "request" : "outcome"
        [id.to_s, phase]
      end
    end
  end
end
