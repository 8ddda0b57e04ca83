# frozen_string_literal: true

require "digest"
require "re2"
require "yaml"

module Northdrift
  module Logbook
    # The rules, which are data: a file for each family of systems. Of a line, the first rule that fits tells what happened.
    class Catalogue
      FILES = Dir[File.join(__dir__, "rules/*.yml")].freeze

      # @return [Catalogue] the one that ships
      def self.shipped = @shipped ||= new(FILES.to_h { |path| [File.basename(path, ".yml"), File.read(path)] })

      # @return [Hash{String=>Array<Rule>}] rules by family
      attr_reader :families
      # @return [String] another one for other rules
      attr_reader :version

      # @param texts [Hash{String=>String}] YAML by family
      def initialize(texts)
        @families = texts.transform_values { |text| YAML.safe_load(text).map { |values| Rule.new(values) } }
        @rules = @families.values.flatten
        @version = Digest::SHA256.hexdigest(texts.values.join)[0, 16]
        @marks = RE2::Set.new(:unanchored, log_errors: false, max_mem: 1 << 24)
        @rules.each { |rule| @marks.add(RE2::Regexp.escape(rule.mark)) }
        @marks.compile
        # Most lines hold none; that is told in half the time.
        @any = RE2::Regexp.new(@rules.map { |rule| RE2::Regexp.escape(rule.mark) }.join("|"), utf8: false, log_errors: false)
      end

      # @return [Array<Rule>]
      attr_reader :rules

      # @param event [Event]
      # @param source [String] name of its source
      # @return [Happening, nil]
      def read(event, source)
        return unless @any.match?(event.raw)

        subject = Find::Subjects.of(event, source)
        @marks.match(event.raw, exception: false).sort.each { |index| (happening = @rules[index].read(event, subject)) && (return happening) }
        nil
      end
    end
  end
end
