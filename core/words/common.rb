# frozen_string_literal: true

module Northdrift
  module Words
    # Words that say little because every text, or every log, has them: those of English, and those of logging.
    module Common
      ENGLISH = %w[
        about above after again all also and any are because been before being below between both but can cannot could
        did does doing done down during each few for from further had has have having her here him his how into its
        itself just may might more most must nor not now off once only other our out over own per same she should some
        such than that the their them then there these they this those through too under until upon very via was were
        what when where which while who whom why will with within without would you your yes one two
      ].freeze
      LOGGING = %w[
        log logs logger logging level lvl severity emerg emergency alert crit critical err error errors warn warning
        notice info informational debug trace msg message messages text time timestamp date utc host hostname service
        unit program process pid tid thread module src source file line null nil none true false http https get post put
        head org com net www jan feb mar apr jun jul aug sep oct nov dec mon tue wed thu fri sat sun
      ].freeze
      ALL = (ENGLISH + LOGGING).to_h { |word| [word, true] }.freeze
      LEAST = 3

      module_function

      # @param word [String] lower case
      # @return [Boolean] whether it may tell something: has some length, is no common word, no number and no identifier
      def telling?(word) = word.length >= LEAST && !ALL.key?(word) && !word.match?(/\A\d|\A\h*\d\h*\z/)
    end
  end
end
