# frozen_string_literal: true

module Northdrift
  module Logbook
    # A machine, or a service of one, that started: what happenings are about, as seen from it.
    class Subject
      UNIT = /\.service\z/

      # @return [#time_us] the happening that tells the start
      attr_reader :start
      # @return [String]
      attr_reader :machine
      # @return [String, nil] the service, without the ending of a unit
      attr_reader :service
      # @return [String, nil] the host that its machine runs on, where that is known
      attr_reader :host

      # @return [Boolean] whether its end before was not told, though it tells its ends
      attr_reader :unended

      # @param names [Array<String>] fields that name a service
      def initialize(start, names: nil, host: nil, unended: false)
        @start = start
        @unended = unended
        @machine = start.machine
        @names = names
        @service = names && Subject.service(start, names)
        @host = host
      end

      # @param happening [#fields, #service]
      # @return [String, nil] name of the service that it is about
      def self.service(happening, names)
        (names.filter_map { |name| happening.fields[name] }.first || happening.service)&.sub(UNIT, "")&.downcase
      end

      # @return [Integer]
      def start_us = @start.time_us

      # @param happening [#machine, #fields]
      # @param where [String] here, unit, host or named
      # @return [Boolean]
      def about?(happening, where)
        case where
        when "here" then happening.machine == @machine
        when "unit" then happening.machine == @machine && Subject.service(happening, @names) == @service
        when "host" then !@host.nil? && happening.machine == @host
        when "named" then happening.machine != @machine && names?(happening)
        end
      end

      # @param happening [#fields]
      # @return [Boolean] whether one of its values is the machine's name, alone or among others
      def names?(happening) = happening.fields.any? { |_, value| value.to_s.split(%r{[\s,/]+}).include?(@machine) }
    end
  end
end
