# frozen_string_literal: true

module Northdrift
  module Server
    module Access
      # Whether everybody logs in: where there are people, and always where others can reach it.
      class Mode
        # @param people [Boolean, nil] whether people are wanted; nil: where there are any
        # @param reachable [Boolean] whether it listens to others than this computer
        def initialize(people: nil, reachable: false)
          @people = people
          @reachable = reachable
        end

        # @raise [Error] saying how to make the first administrator, where one is needed to log in
        def check
          raise Error, "others can reach it at this address, so people have to log in" if @people == false && @reachable
          return unless together? && Store::Person.administrators.where.not(password_digest: nil).none?

          raise Error,
                "everybody would have to log in#{' at this address' if @reachable}, and there is no administrator " \
                "yet; make one with: bin/northdrift person add NAME --role administrator"
        end

        # Who is there once is there for good: people are disabled, and not removed.
        # @return [Boolean]
        def together?
          return true if @reachable || @together

          @people.nil? ? @together = Store::Person.exists? : @people
        end
      end
    end
  end
end
