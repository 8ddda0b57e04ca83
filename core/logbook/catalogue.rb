# frozen_string_literal: true

require "digest"
require "re2"
require "yaml"

module Northdrift
  module Logbook
    # The rules, which are data: a file for each family of systems, and rules that people have made. Of a line, the
    # first rule that fits tells what happened; those of people come first.
    class Catalogue
      # @!attribute name [String] of its file
      # @!attribute title [String] for people
      # @!attribute rules [Array<Rule>]
      Family = Struct.new(:name, :title, :rules)

      # Readers of lines that repeat what strangers asked for, and fields of such a line that stands within another.
      # Whoever sends a request could have them say anything, so only people's own rules are asked of them.
      REPEATING =
        [
          Reading::Formats::AccessLog, Reading::Formats::W3c, Reading::Formats::Proxy, Reading::Formats::Statements
        ].map { |reader| reader::NAME }.freeze
      REQUEST_FIELDS = %w[http.response.status_code session.state].freeze
      FROM = "client.address"

      FILES = Dir[File.join(__dir__, "rules/*.yml")].freeze

      # @return [Catalogue] the one that ships, all of it
      def self.shipped = @shipped ||= new(FILES.to_h { |path| [File.basename(path, ".yml"), File.read(path)] })

      # @param definition [Hash{String=>Array}, nil] "off": ids of rules that are switched off; "own": values of rules
      #   that people made
      # @return [Catalogue] with that
      def self.of(definition)
        return shipped if definition.nil? || definition.values.all?(&:empty?)
        return @altered if @definition == definition

        @definition = definition
        @altered = shipped.altered(**definition.transform_keys(&:to_sym))
      end

      # @return [Array<Family>]
      attr_reader :families
      # @return [Array<Rule>]
      attr_reader :rules
      # @return [String] another one for other rules
      attr_reader :version
      # @return [Hash{String=>Object}] "shipped": version of the rules that ship; "off" and "own" as {of} takes them
      attr_reader :definition

      # @param texts [Hash{String=>String}] YAML by family
      def initialize(texts)
        @families = texts.map do |name, text|
          family = YAML.safe_load(text)
          Family.new(
            name, family.fetch("title"), family.fetch("rules").map { |values| Rule.new(values, where: family["where"]) }
          )
        end
        use(@families.flat_map(&:rules), [], Digest::SHA256.hexdigest(texts.values.join))
        @definition = { "shipped" => @version, "off" => [], "own" => [] }
      end

      # @param off [Array<String>] ids of rules that are not asked
      # @param own [Array<Hash>] see {Rule#initialize}
      # @return [Catalogue]
      def altered(off: [], own: [])
        dup.tap do |other|
          other.use(
            @rules.reject { |rule| off.include?(rule.id) }, own.map { |values| Rule.new(values) },
            Digest::SHA256.hexdigest([@version, off.sort, own].inspect)
          )
          other.definition = @definition.merge("off" => off.sort, "own" => own)
        end
      end

      # @param event [Event]
      # @param source [String] name of its source
      # @param said [Hash{String=>Hash}] see {Find::Subjects.of}
      # @return [Happening, nil]
      def read(event, source, said = Find::Subjects::NOTHING)
        marked = @any.match?(event.raw) && !repeats?(event)
        return unless marked || @own.any?

        subject = Find::Subjects.of(event, source, said)
        @own.each { |rule| (happening = rule.read(event, subject)) && (return happening) }
        return unless marked

        @marks
          .match(event.raw, exception: false)
          .sort
          .each { |index| (happening = @marked[index].read(event, subject)) && (return happening) }
        nil
      rescue StandardError => error
        event.stumbled("a rule of the logbook", error)
        nil
      end

      def repeats?(event)
        REPEATING.include?(event.reader) ||
          (event.fields.key?(FROM) && REQUEST_FIELDS.any? { |name| event.fields.key?(name) })
      end
      private :repeats?

      protected

      attr_writer :definition

      # @param marked [Array<Rule>] that are asked where their mark stands
      # @param own [Array<Rule>] that are asked of every line
      def use(marked, own, version)
        @marked = marked
        @own = own
        @rules = own + marked
        @version = version[0, 16]
        @marks = RE2::Set.new(:unanchored, log_errors: false, max_mem: 1 << 25)
        marked.each { |rule| @marks.add(RE2::Regexp.escape(rule.mark)) }
        @marks.compile
        # Most lines hold none; that is told in half the time.
        @any =
          RE2::Regexp.new(
            marked.map { |rule| RE2::Regexp.escape(rule.mark) }.uniq.join("|"),
            utf8: false, log_errors: false, max_mem: 1 << 25
          )
      end
    end
  end
end
