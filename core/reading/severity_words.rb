# frozen_string_literal: true

require "re2"

module Northdrift
  module Reading
    # Reads a severity out of the words of a message, for formats that do not say it. The rules are tried in order; the
    # first that finds its word wins. RE2 finds all words of a rule in one pass.
    module SeverityWords
      def self.re2(pattern, case_sensitive: false)
        RE2::Regexp.new(pattern, case_sensitive: case_sensitive, utf8: false)
      end
      private_class_method :re2

      # How far into a message a level word counts as its label.
      LABEL_REACH = 80
      LABELS = [
        # "ERROR: …", "… INFO  com.example – …"
        re2(
          '(?:^|[^\w./-])(EMERG(?:ENCY)?|ALERT|CRIT(?:ICAL)?|FATAL|SEVERE|PANIC|ERR(?:OR)?|WARN(?:ING)?|NOTICE|INFO|D' \
          'EBUG|TRACE)(?:[^\w./=-]|$)',
          case_sensitive: true
        ),
        # "LOG:  checkpoint complete", as database servers have it
        re2('(?:^|[^\w./-])(LOG): ', case_sensitive: true),
        # "[warn] …", "<error> …", "|info|", "[core:error] …"
        re2('[\[<(|:](emerg|alert|crit|critical|fatal|error|err|warn|warning|notice|info|debug|trace)[\]>)|:]'),
        # "warning: …" at the very start, or behind what the program calls the part of it that speaks: "auth: Error: …",
        # "general: debug 1: …"
        re2(
          '^(?:PHP )?(?:[\w()./-]{1,40}: ' \
          '){0,2}(emergency|alert|critical|panic|fatal|error|warning|warn|notice|info|debug)(?: \d+)?: '
        ),
        # "Fehler: …", "[FEHLER] …", "WARNUNG …": the same in other languages, at the start
        re2(
          '^(?:\(\d{1,9}\) ' \
          ')?[\[(<]?(fehler|warnung|hinweis|erreur|avertissement|advertencia|aviso|feil|advarsel)(?:[\])>: ] ?| - )'
        )
      ].freeze

      # Whether one of these is there.
      LABELLED =
        re2(
          LABELS.map { |label| "(?:#{'(?i)' unless label.options[:case_sensitive]}#{label.source})" }.join("|"),
          case_sensitive: true
        )

      # Words that tell trouble wherever they stand, worst first.
      TELLING = [
        [
          Severity::CRITICAL,
          "kernel panic|panicked at|out of memory|oom-kill(?:er)?|segfault|fatal|core dumped|data loss|machine check"
        ], [Severity::ERROR, "errors?|exception|traceback|failed|failure|crash(?:ed)?|corrupt(?:ed|ion)?|unexpectedly"],
        [
          Severity::WARNING,
          "warn(?:ing)?|denied|refused|timed out|timeout|unreachable|deprecated|unable to|cannot|can't|invalid|expired"
        ]
      ].freeze
      TELLING_RULES = TELLING.map { |code, words| [code, re2("(?:^|[^\\w-])(#{words})(?:[^\\w-]|$)")] }.freeze

      # Most messages hold none of the words.
      CANDIDATE =
        re2(
          "\\b(?:#{Severity::WORDS.keys.join('|')}|#{TELLING.map(&:last).join('|')}|fehler|warnung|hinweis|erreur|" \
          "avertissement|advertencia|aviso|feil|advarsel)\\b"
        )
      # "0 errors", "no error" and "without errors" tell of health.
      HARMLESS = re2('\b(?:0|no|without(?: any)?)\s+(?:errors?|failures?|warnings?|exceptions?)\b')
      NOTHING = [Severity::UNSET, "no word that tells one"].freeze

      @levels = {}
      @telling = {}

      module_function

      # @param message [String]
      # @return [Array(Integer, String)] severity code and the rule that chose it
      def read(message)
        return NOTHING unless CANDIDATE.match?(message)

        head = message.byteslice(0, LABEL_REACH)
        LABELS.each { |rule| (word = rule.match(head, 1)) && (return level(word[1])) } if LABELLED.match?(head)
        text = HARMLESS.match?(message) ? RE2.GlobalReplace(message, HARMLESS, "") : message
        TELLING_RULES.each do |code, rule|
          # Telling whether takes half as long as telling which.
          return telling(code, rule.match(text, 1)[1]) if rule.match?(text)
        end
        NOTHING
      end

      # There are few such words: what each comes to is made once.
      def level(word) = @levels[word] ||= [Severity.from_value(word), "level word “#{word}”"].freeze
      private_class_method :level

      def telling(code, word) = @telling[word] ||= [code, "word “#{word.downcase}” in the message"].freeze
      private_class_method :telling
    end
  end
end
