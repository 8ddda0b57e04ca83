# frozen_string_literal: true

require "ipaddr"

module Northdrift
  module Find
    # Tests of one field's value against what a person typed. Made once for a condition, called for every event.
    module Values
      NETWORK = %r{\A[0-9a-fA-F.:]+/\d{1,3}\z}

      module_function

      # @param test [#call] see {test}
      # @param value [Object] or several, of which any may fit
      # @return [Boolean]
      def fits?(test, value) = value.is_a?(Array) ? value.any? { |one| test.call(one) } : test.call(value)

      # @param field [String] its name, which may tell the unit of bare numbers
      # @param operator [Symbol] :==, :exactly, :<, :<=, :>, :>=
      # @param wanted [String] as typed
      # @return [#call] takes a value (String, Numeric, true, false), returns whether it fits
      def test(field, operator, wanted)
        case operator
        when :== then equal(field, wanted)
        when :exactly then same(wanted)
        else ordered(field, operator, Quantity.parse(wanted))
        end
      end

      def same(wanted)
        text = wanted.downcase
        ->(value) { value.to_s.downcase == text }
      end
      private_class_method :same

      def ordered(field, operator, wanted)
        lambda do |value|
          quantity = Quantity.parse(value) if value.is_a?(String) || value.is_a?(Numeric)
          order = quantity && Quantity.compare(quantity, wanted, field)
          !order.nil? && order.public_send(operator, 0)
        end
      end
      private_class_method :ordered

      def equal(field, wanted)
        return glob(wanted) if wanted.include?("*")
        return network(wanted) if NETWORK.match?(wanted) && address(wanted)

        quantity = Quantity.parse(wanted)
        text = wanted.downcase
        lambda do |value|
          next true if value.to_s.downcase == text

          other = quantity && Quantity.parse(value.is_a?(String) || value.is_a?(Numeric) ? value : "")
          !other.nil? && Quantity.compare(other, quantity, field)&.zero? || false
        end
      end
      private_class_method :equal

      def glob(wanted)
        regex =
          RE2::Regexp.new("(?is)\\A#{wanted.split('*', -1).map { |part| RE2::Regexp.escape(part) }.join('.*')}\\z")
        ->(value) { regex.match?(value.to_s) }
      end
      private_class_method :glob

      def network(wanted)
        net = address(wanted)
        text = wanted.downcase
        lambda do |value|
          value.to_s.downcase == text ||
            (other = address(value.to_s)) && other.family == net.family && net.include?(other) || false
        end
      end
      private_class_method :network

      def address(text)
        IPAddr.new(text) if text.match?(%r{\A[0-9a-fA-F.:]+(?:/\d+)?\z})
      rescue IPAddr::Error
        nil
      end
    end
  end
end
