# frozen_string_literal: true

module Northdrift
  # The eight severities of RFC 5424, table 2 in section 6.2.1, and *unset* for records that tell none.
  # A lower number is worse; {UNSET} sorts after all.
  module Severity
    NAMES = %w[emergency alert critical error warning notice informational debug unset].freeze
    EMERGENCY, ALERT, CRITICAL, ERROR, WARNING, NOTICE, INFORMATIONAL, DEBUG, UNSET = *0..8

    # Level words that programs use, in lower case.
    WORDS = {
      "emergency" => 0, "emerg" => 0,
      "alert" => 1,
      "critical" => 2, "crit" => 2, "fatal" => 2, "ftl" => 2, "severe" => 2, "panic" => 2,
      "error" => 3, "err" => 3, "failure" => 3,
      "warning" => 4, "warn" => 4, "wrn" => 4,
      "notice" => 5, "note" => 5,
      "informational" => 6, "information" => 6, "info" => 6, "inf" => 6, "log" => 6,
      "success" => 6,
      "debug" => 7, "dbg" => 7, "dbug" => 7, "ddebug" => 7, "subdebug" => 7, "trace" => 7, "trce" => 7, "vrb" => 7,
      "verbose" => 7, "fine" => 7, "finer" => 7, "finest" => 7,
      "unset" => 8
    }.freeze

    # The same in other languages, as localised programs and tables have them, and the letters of loggers that have a
    # field for the level. They are looked for in such fields alone.
    OTHER_WORDS = {
      "e" => 3, "f" => 2, "w" => 4, "i" => 6, "d" => 7, "d1" => 7, "d2" => 7, "d3" => 7, "d4" => 7, "d5" => 7, "v" => 7,
      "kritisch" => 2, "schwerwiegend" => 2, "fehler" => 3, "warnung" => 4, "hinweis" => 5, "informationen" => 6,
      "erreur" => 3, "avertissement" => 4, "feil" => 3, "advarsel" => 4, "aviso" => 4, "advertencia" => 4,
      "致命" => 2, "严重" => 2, "错误" => 3, "警告" => 4, "信息" => 6, "调试" => 7, "エラー" => 3, "情報" => 6,
      "ошибка" => 3, "предупреждение" => 4
    }.transform_keys(&:b).freeze

    # Severity number ranges of the OpenTelemetry logs data model ("Mapping of SeverityNumber", appendix B: syslog).
    OPENTELEMETRY = [21, 19, 18, 17, 13, 10, 9, 5, 0].freeze

    module_function

    # @param word [String] a level word in any case
    # @return [Integer, nil]
    def from_word(word) = WORDS[word.downcase]

    # @param word [String] the value of a field for the level, in any case and some languages
    # @return [Integer, nil]
    def from_value(word) = WORDS[word.downcase] || OTHER_WORDS[Text.utf8(word).downcase.b]

    # @param code [Integer] 0–8
    # @return [String]
    def name(code) = NAMES.fetch(code)

    # @param number [Integer] SeverityNumber, 1–24; 0 means unspecified
    # @return [Integer] severity code
    def from_opentelemetry(number)
      case number
      when 1..8 then DEBUG
      when 9 then INFORMATIONAL
      when 10..12 then NOTICE
      when 13..16 then WARNING
      when 17 then ERROR
      when 18 then CRITICAL
      when 19..20 then ALERT
      when 21..24 then EMERGENCY
      else UNSET
      end
    end

    # Numeric levels in JSON follow two habits: the syslog codes 0–7, and steps of ten from 10 (trace) to 60 (fatal).
    # @param number [Integer]
    # @return [Integer, nil]
    def from_number(number)
      return number if number.between?(0, 7)

      { 10 => DEBUG, 20 => DEBUG, 30 => INFORMATIONAL, 40 => WARNING, 50 => ERROR, 60 => CRITICAL }[number]
    end

    # @param status [Integer] HTTP status code
    # @return [Integer] 5xx error, 4xx warning, others informational
    def from_http_status(status)
      case status
      when 500..599 then ERROR
      when 400..499 then WARNING
      else INFORMATIONAL
      end
    end
  end
end
