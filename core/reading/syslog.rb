# frozen_string_literal: true

module Northdrift
  module Reading
    # The priority value that both syslog formats share: facility * 8 + severity (RFC 5424 section 6.2.1).
    module Syslog
      # RFC 5424, table 1, in the short words of common practice.
      FACILITIES = %w[kern user mail daemon auth syslog lpr news uucp cron authpriv ftp ntp audit alert clock
                      local0 local1 local2 local3 local4 local5 local6 local7].freeze

      # @!attribute severity [Array(Integer, String)] code and rule
      # @!attribute constants [Hash] the fields that the number tells
      Priority = Struct.new(:severity, :constants)

      # Where there is no such number.
      NONE = Priority.new(nil, {}.freeze).freeze

      TABLE = (0..191).map do |number|
        code = number % 8
        Priority.new([code, "PRI #{number}: severity #{code} of RFC 5424"].freeze,
                     { "syslog.facility" => FACILITIES[number / 8] }.freeze)
      end.freeze

      BY_DIGITS = TABLE.each_with_index.to_h { |priority, number| [number.to_s, priority] }.freeze
      DIGITS = /\A\d{1,3}\z/

      # @param facility [String, nil] as in {FACILITIES}
      # @param level [String] a word
      # @return [Priority, nil] nil where these are other words
      def self.named(facility, level)
        code = Severity.from_word(level)
        return if code.nil? || code == Severity::UNSET || !(facility.nil? || FACILITIES.include?(facility))

        Priority.new([code, "level word “#{level}”"], facility ? { "syslog.facility" => facility } : {})
      end

      # @param text [String] what stands between the angle brackets
      # @return [Priority, nil] nil when it is no number from 0 to 191
      def self.priority(text) = BY_DIGITS[text] || (DIGITS.match?(text) ? TABLE[text.to_i] : nil)
    end
  end
end
