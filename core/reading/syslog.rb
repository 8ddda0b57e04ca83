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

      TABLE = (0..191).map do |number|
        code = number % 8
        Priority.new([code, "PRI #{number}: severity #{code} of RFC 5424"].freeze,
                     { "syslog.facility" => FACILITIES[number / 8] }.freeze)
      end.freeze

      # @param digits [String]
      # @return [Priority, nil] nil above 191
      def self.priority(digits) = TABLE[digits.to_i]
    end
  end
end
