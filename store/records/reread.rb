# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # A parser on its way over what is stored. States: waiting, running, done, cancelled, failed; undoing and undone
    # when its fields are taken away again.
    class Reread < Record
      self.table_name = "rereads"

      GOING_ON = %w[waiting running undoing].freeze

      # @param rule [ParserRule]
      # @return [Reread] one that waits
      def self.of(rule, now_us)
        create!(
          parser_id: rule.id, version: rule.version, definition: Oj.dump(rule.definition, mode: :strict),
          created_us: now_us
        )
      end

      # @return [Boolean]
      def going_on? = GOING_ON.include?(state)

      # @return [Rules::Parser]
      def parser = Rules::Parser.new(**given)

      # @return [Question] the lines that it looks at
      def question = Question.new(find: given[:find])

      private

      def given = Oj.load(definition, mode: :strict).transform_keys(&:to_sym)
    end
  end
end
