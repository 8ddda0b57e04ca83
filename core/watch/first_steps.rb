# frozen_string_literal: true

require "erb"

module Northdrift
  module Watch
    # What a rule says to do first, and why it matters: Markdown (CommonMark 0.30), in which {host.name} stands for what
    # an alert has as that field. Values come from lines: they never become markup, or another address.
    module FirstSteps
      OPEN = /\{([\w.@-]+)\}/
      # Where a link leads (sections 6.3 and 6.5).
      TARGET = %r{\]\([^)\s]*\)|https?://[^\s)>]+}
      PARTS = /(?<target>#{TARGET})|#{OPEN}/

      module_function

      # @param markdown [String]
      # @param fields [Hash{String=>Object}] what is not among them is left as it stands
      # @return [String] Markdown
      def fill(markdown, fields) = filled(markdown, fields) { |value| Cases::Markdown.escape(value) }

      # For those who read it as text.
      # @return [String]
      def plain(markdown, fields) = filled(markdown, fields, &:itself)

      def filled(markdown, fields)
        markdown.gsub(PARTS) do |whole|
          target = Regexp.last_match[:target]
          next target.gsub(OPEN) { |open| value(fields, open) { |one| ERB::Util.url_encode(one) } } if target

          value(fields, whole) { |one| yield Text.line(one) }
        end
      end
      private_class_method :filled

      def value(fields, open)
        found = fields[open[1...-1]]
        found.nil? || found == "" ? open : yield(found.to_s)
      end
      private_class_method :value
    end
  end
end
