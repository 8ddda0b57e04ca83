# frozen_string_literal: true

require "erb"
require "liquid"

module Northdrift
  module Sending
    # What a message says: a subject and a text, in Liquid. What it may use is bounded, since people write it.
    class Template
      TEXTS = File.join(__dir__, "texts")
      SUBJECT = File.read(File.join(TEXTS, "subject.liquid")).freeze
      TEXT = File.read(File.join(TEXTS, "text.liquid")).freeze
      HTML = File.read(File.join(TEXTS, "page.liquid")).freeze
      LIMITS = { render_length_limit: 200_000, render_score_limit: 100_000, assign_score_limit: 100_000 }.freeze
      MOST = 20_000
      MOST_SUBJECT = 200

      # @param subject [String] Liquid; empty for the usual one
      # @param text [String] the same
      # @raise [Rules::Mistake]
      def initialize(subject = "", text = "")
        @own_text = !text.strip.empty?
        @subject = parsed("subject", subject.strip.empty? ? SUBJECT : subject)
        @text = parsed("text", @own_text ? text : TEXT)
        @html = parsed("text", HTML)
      end

      # @param values [Hash{String=>Object}] see {Message#to_h}
      # @return [String] one line
      def subject(values) = Text.line(render(@subject, values).gsub(/\s+/, " ").strip)[0, MOST_SUBJECT]

      # @param values [Hash{String=>Object}]
      # @return [String] plain
      def text(values) = "#{render(@text, values).gsub(/\n{3,}/, "\n\n").strip}\n"

      # @param values [Hash{String=>Object}]
      # @return [String] of a whole page
      def html(values)
        own = "<pre>#{ERB::Util.html_escape(text(values))}</pre>" if @own_text
        render(@html, values.merge("subject" => subject(values), "own" => own))
      end

      private

      def parsed(part, source)
        raise Rules::Mistake.new(part, "#{part} has #{MOST} characters at most") if source.size > MOST

        Liquid::Template.parse(source, error_mode: :strict)
      rescue Liquid::Error => error
        raise Rules::Mistake.new(part, "#{part}: #{error.message.delete_prefix('Liquid ')}")
      end

      # What goes wrong in a template stands in its place: a message is sent all the same.
      def render(template, values)
        context = Liquid::Context.build(environments: values, resource_limits: Liquid::ResourceLimits.new(LIMITS))
        text = template.render(context)
        return text unless context.resource_limits.reached?

        "(the template takes too much; this is the alert as it is)\n#{values.dig('alerts', 0, 'name')}"
      end
    end
  end
end
