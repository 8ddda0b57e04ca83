# frozen_string_literal: true

require "openssl"

module Northdrift
  module Reading
    # A notification of a device (SNMP): a trap of version 1 (RFC 1157, section 4.1.6), a trap or an inform of version
    # 2c (RFC 3416, sections 4.2.6 and 4.2.7; RFC 1901), or of version 3 without authentication (RFC 3412, section 6).
    class SnmpTrap
      # What came is no notification, or one that cannot be read.
      class Unread < Error; end

      VERSIONS = { 0 => "1", 1 => "2c", 3 => "3" }.freeze
      TRAP_V1 = 4
      INFORM = 6
      TRAP_V2 = 7
      RESPONSE = 2
      # Where a message has its error status and index: a response says that there is none.
      ERRORS = [1, 2].freeze
      # RFC 3412, section 6.4: the bits of authentication and privacy.
      SECURED = 3
      # RFC 3584, section 3.1: what the generic traps of version 1 are called since.
      GENERIC = "1.3.6.1.6.3.1.1.5"
      ENTERPRISE_SPECIFIC = 6
      UPTIME = "1.3.6.1.2.1.1.3.0"
      TRAP_OID = "1.3.6.1.6.3.1.1.4.1.0"
      # RFC 3418 and RFC 3584: the device that it is of, where another handed it on, and what it is called.
      ADDRESS = "1.3.6.1.6.3.18.1.3.0"
      COMMUNITY = "1.3.6.1.6.3.18.1.4.0"
      SYS_NAME = "1.3.6.1.2.1.1.5.0"
      NOWHERE = "0.0.0.0"
      HUNDREDTH = 100.0

      # Application tags (RFC 2578, section 7.1).
      APPLICATION = {
        0 => ->(bytes) { bytes.bytesize == 4 ? bytes.unpack("C4").join(".") : bytes.unpack1("H*") },
        1 => ->(bytes) { bytes.unpack("C*").inject(0) { |sum, byte| (sum << 8) | byte } },
        4 => ->(bytes) { bytes.unpack1("H*") }
      }.tap { |types| [2, 3, 6].each { |tag| types[tag] = types[1] } }.freeze
      # What is seen in place of a value that there is not (RFC 3416, section 3).
      ABSENT = { 0 => "no such object", 1 => "no such instance", 2 => "end of the MIB" }.freeze

      # @return [String] version: 1, 2c or 3
      attr_reader :version
      # @return [String] what happened, as an object identifier in dots
      attr_reader :oid
      # @return [Hash{String=>Object}] values by object identifier; texts are bytes
      attr_reader :values
      # @return [Float, nil] seconds since the device started
      attr_reader :uptime
      # @return [String, nil] address of the device, where it says one
      attr_reader :agent

      # @param bytes [String] of a datagram
      # @raise [Unread] saying why
      def initialize(bytes)
        message = list(OpenSSL::ASN1.decode(bytes))
        @version = VERSIONS.fetch(whole(message[0])) { |number| raise Unread, "version #{number} is not known" }
        @bytes = bytes
        read(@version == "3" ? scoped(message) : message[2])
      # What is nested too deep is none, either.
      rescue OpenSSL::ASN1::ASN1Error, SystemStackError, TypeError, NoMethodError, KeyError, ArgumentError
        raise Unread, "it is no SNMP notification"
      end

      # @return [String, nil] the answer that an inform waits for (RFC 3416, section 4.2.7); nil for a trap
      def answer
        return unless @inform

        header, community = OpenSSL::ASN1.decode(@bytes).value.first(2)
        parts = @inform.value.each_with_index.map { |part, at| ERRORS.include?(at) ? OpenSSL::ASN1::Integer(0) : part }
        response = OpenSSL::ASN1::ASN1Data.new(parts, RESPONSE, :CONTEXT_SPECIFIC)
        OpenSSL::ASN1::Sequence([header, community, response]).to_der
      end

      # @return [String, nil] the name that the device gives itself
      def name = @values[SYS_NAME]&.to_s

      private

      def read(pdu)
        raise Unread, "it is no notification, but another message" unless pdu.tag_class == :CONTEXT_SPECIFIC

        case pdu.tag
        when TRAP_V1 then first(pdu.value)
        when TRAP_V2, INFORM then second(pdu)
        else raise Unread, "it is no notification, but another message"
        end
      end

      def first((enterprise, agent, generic, specific, uptime, bindings))
        @values = values_of(bindings)
        address = value_of(agent)
        @agent = address unless address == NOWHERE
        @uptime = value_of(uptime) / HUNDREDTH
        number = whole(generic)
        own = number == ENTERPRISE_SPECIFIC
        @oid = own ? "#{enterprise.oid}.0.#{whole(specific)}" : "#{GENERIC}.#{number + 1}"
      end

      def second(pdu)
        @inform = pdu if pdu.tag == INFORM && @version == "2c"
        @values = values_of(pdu.value[3])
        @uptime = @values.delete(UPTIME)&.then { |ticks| ticks / HUNDREDTH }
        @oid = @values.delete(TRAP_OID) or raise Unread, "it does not say what happened"
        @agent = @values.delete(ADDRESS)
        # It is a password of a kind.
        @values.delete(COMMUNITY)
      end

      def scoped(message)
        flags = list(message[1])[2].value.unpack1("C")
        raise Unread, "it is authenticated or enciphered, which is not read" if flags.anybits?(SECURED)

        list(message[3])[2]
      end

      def values_of(bindings)
        list(bindings).to_h { |binding| list(binding).then { |name, value| [name.oid, value_of(value)] } }
      end

      def value_of(part)
        case part.tag_class
        when :APPLICATION then APPLICATION.fetch(part.tag).call(part.value)
        when :CONTEXT_SPECIFIC then ABSENT.fetch(part.tag)
        else universal(part)
        end
      end

      def universal(part)
        case part
        when OpenSSL::ASN1::Integer then part.value.to_i
        when OpenSSL::ASN1::ObjectId then part.oid
        when OpenSSL::ASN1::Null then nil
        else String(part.value)
        end
      end

      def whole(part) = part.is_a?(OpenSSL::ASN1::Integer) ? part.value.to_i : raise(TypeError, "no number")

      def list(part)
        part.is_a?(OpenSSL::ASN1::Sequence) && part.value.is_a?(Array) ? part.value : raise(TypeError, "no list")
      end
    end
  end
end
