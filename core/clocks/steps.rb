# frozen_string_literal: true

require "re2"
require "time"

module Northdrift
  module Clocks
    # What the machines' own logs tell of clocks that were set: a message of a time daemon, a kernel or an operating
    # system. The words are common practice, with no source.
    module Steps
      AMOUNT =
        RE2::Regexp.new(
          '(?i)\b(?:clock|time)\b.{0,40}?\b(?:stepped|step|wrong|jumped|adjusted|moved|reset)\b[^-+0-9]{0,20}([-+]?\d' \
          '+(?:\.\d+)?) ?(s|sec|seconds|ms|milliseconds)\b'
        )
      BACKWARD = RE2::Regexp.new('(?i)\b(?:back|backward|backwards)\b')
      FROM_TO =
        RE2::Regexp.new('(?i)time (?:has|was) changed to (\d{4}-\d\d-\d\dT[\d:.]+)Z? from (\d{4}-\d\d-\d\dT[\d:.]+)Z?')
      # What finds such lines.
      FIND = "(clock or time) and (stepped or step or wrong or jumped or adjusted or moved or reset or changed)"

      module_function

      # @param message [String]
      # @return [Integer, nil] microseconds by which the clock was put forward, or back when negative
      def of(message)
        if (match = FROM_TO.match(message))
          return micros(match[1]) - micros(match[2])
        end

        match = AMOUNT.match(message) or return
        amount = match[1].to_r * (match[2].start_with?("m") ? 1000 : 1_000_000)
        (BACKWARD.match?(message) && amount.positive? ? -amount : amount).to_i
      rescue ArgumentError
        nil
      end

      def micros(text) = (Time.iso8601("#{text}Z").to_r * 1_000_000).to_i
      private_class_method :micros
    end
  end
end
