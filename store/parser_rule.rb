# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # A parser as it is kept, see {Rules::Parser}.
    class ParserRule < Record
      self.table_name = "parsers"

      scope :present, -> { where(deleted_us: nil).order(:position, :id) }

      # @return [Hash{String=>String}] types by group
      def by_group = Oj.load(types, mode: :strict)

      # @return [Array<String>] messages that it was made from
      def sample_messages = Oj.load(samples, mode: :strict)

      # @return [Hash{String=>Object}] arguments of {Rules::Parser}
      def definition = { "id" => id, "pattern" => pattern, "types" => by_group, "find" => find }
    end
  end
end
