# frozen_string_literal: true

module Northdrift
  module Reading
    # Abbreviations of time zones that programs write behind a time. Most stand for several zones; here are those that
    # tell one offset all the same: those that RFC 5322 fixes, and those that mean one thing wherever the tz database
    # has them today. Words that a message could start with ("EAT", "CAT") are left out: lines of such places have the
    # zone of their source.
    module ZoneNames
      HOURS = {
        "UTC" => 0, "GMT" => 0,
        # RFC 5322, section 4.3
        "EST" => -5, "EDT" => -4, "CST" => -6, "CDT" => -5, "MST" => -7, "MDT" => -6, "PST" => -8, "PDT" => -7,
        "WET" => 0, "WEST" => 1, "BST" => 1, "CET" => 1, "CEST" => 2, "EET" => 2, "EEST" => 3, "MSK" => 3, "SAST" => 2,
        "PKT" => 5, "WIB" => 7, "HKT" => 8, "JST" => 9, "KST" => 9, "AWST" => 8, "ACST" => 9.5, "ACDT" => 10.5,
        "AEST" => 10, "AEDT" => 11, "NZST" => 12, "NZDT" => 13, "AST" => -4, "ADT" => -3, "NST" => -3.5, "NDT" => -2.5,
        "AKST" => -9, "AKDT" => -8, "HST" => -10
      }.freeze
      MINUTES = HOURS.transform_values { |hours| (hours * 60).to_i }.freeze

      # For use in expressions.
      PATTERN = MINUTES.keys.sort_by { |name| [-name.size, name] }.join("|").freeze
    end
  end
end
