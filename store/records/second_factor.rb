# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # What somebody needs beside the password to log in: a one-time code of an app, or once a recovery code.
    class SecondFactor
      Unfit = Class.new(Error)

      # @param person [Person]
      def initialize(person)
        @person = person
      end

      # @return [Boolean] whether it is asked for
      def on? = !@person.factor_since_us.nil?

      # Makes a secret, which holds once a code of it was given.
      # @return [String]
      # @raise [Unfit]
      def begin
        raise Unfit, "a second factor is on already; turn it off first" if on?

        People::OneTimeCode.secret.tap { |secret| @person.update!(factor_sealed: Secret.seal(secret), factor_step: nil) }
      end

      # @param code [String] of the app
      # @return [Array<String>] recovery codes, which are told once
      # @raise [Unfit] when the code is wrong
      def confirm(code)
        raise Unfit, "a second factor is on already" if on?
        raise Unfit, "this code is wrong; does the app's clock agree with this one's?" unless fits?(code)

        People::RecoveryCode.make.tap do |codes|
          @person.update!(
            factor_since_us: Clock.now_us,
            recovery: Oj.dump(codes.map { |one| People::RecoveryCode.digest(one) }, mode: :strict)
          )
        end
      end

      # @param code [String] of the app, or a recovery code; each is taken once
      # @return [Boolean]
      def take?(code) = fits?(code) || recovers?(code)

      # @return [Integer] recovery codes that are left
      def left = recovery.size

      def end = @person.update!(factor_sealed: nil, factor_since_us: nil, factor_step: nil, recovery: "[]")

      private

      def recovery = Oj.load(@person.recovery, mode: :strict)

      # Two that come at once with the same code are told apart by the database.
      def fits?(code)
        secret = @person.factor_sealed && Secret.open(@person.factor_sealed) or return false
        before = @person.factor_step
        step = People::OneTimeCode.check(secret, code, at: Clock.now_us / 1_000_000, after: before) or return false
        taken = Person.where(id: @person.id, factor_step: before).update_all(factor_step: step) == 1
        @person.factor_step = step
        @person.clear_attribute_changes([:factor_step])
        taken
      end

      def recovers?(code)
        before = @person.recovery
        left = recovery - [People::RecoveryCode.digest(code)]
        return false if left.size == recovery.size

        Person.where(id: @person.id, recovery: before).update_all(recovery: Oj.dump(left, mode: :strict)) == 1
      end
    end
  end
end
