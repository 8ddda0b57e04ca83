# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # A parser as it is kept, see {Rules::Parser}.
    class ParserRule < Record
      include Authored

      self.table_name = "parsers"

      scope :present, -> { where(deleted_us: nil).order(:position, :id) }

      # @return [Hash{String=>String}] types by group
      def by_group = Oj.load(types, mode: :strict)

      # @return [Array<String>] messages that it was made from
      def sample_messages = Oj.load(samples, mode: :strict)

      # @param now_us [Integer]
      # @return [Integer] lines of the last 24 hours that it has read
      def day_lines(now_us)
        Question.new(
          find: %(#{Rules::Parser::FIELD} = "#{name.gsub(/["\\]/) { |char| "\\#{char}" }}"),
          from_us: now_us - Question::DAY_US, to_us: now_us + Question::DAY_US
        ).total
      end

      # @return [Hash{String=>Object}] arguments of {Rules::Parser}
      def definition = { "id" => id, "name" => name, "pattern" => pattern, "types" => by_group, "find" => find }
    end
  end
end
