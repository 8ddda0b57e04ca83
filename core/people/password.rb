# frozen_string_literal: true

module Northdrift
  module People
    # Which passwords will do (OWASP ASVS 5.0, section 6.2): long ones that are not guessed soon, of any characters.
    module Password
      # In characters.
      LEAST = 12
      # In bytes: bcrypt takes no more.
      MOST = 72
      # Of five grades, by the guesses that a program with lists of common passwords, names and words needs.
      LEAST_GRADE = 3
      # What somebody who knows this program tries.
      OWN_WORDS = %w[northdrift log logs administrator operator responder viewer].freeze

      Unfit = Class.new(Error)

      module_function

      # @param password [String] UTF-8
      # @param name [String] of the person
      # @return [String] the password
      # @raise [Unfit] saying why it will not do
      def check(password, name:)
        reason = reason(password, name) or return password

        raise Unfit, "password not accepted: #{reason}"
      end

      def reason(password, name)
        return "it is no text in UTF-8" unless password.valid_encoding?
        return "it has a NUL character" if password.include?("\0")
        return "it has #{password.length} characters; #{LEAST} are the least" if password.length < LEAST
        return "it has #{password.bytesize} bytes; #{MOST} are the most" if password.bytesize > MOST

        return unless guessed?(password, name)

        "it is too easy to guess; three or four unrelated words are better"
      end
      private_class_method :reason

      def guessed?(password, name) = tester.zxcvbn(password, [name, *OWN_WORDS])["score"] < LEAST_GRADE
      private_class_method :guessed?

      # Reading its lists of words takes much longer than using them.
      def tester
        require "zxcvbn"
        @tester ||= Zxcvbn::Tester.new
      end
      private_class_method :tester
    end
  end
end
