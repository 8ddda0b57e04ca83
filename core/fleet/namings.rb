# frozen_string_literal: true

module Northdrift
  module Fleet
    # Arrows of the map that lines propose: who names whom. A machine that names another many times, and is hardly named
    # by it, most likely uses it.
    module Namings
      # Fewer lines are chance.
      LEAST = 5
      # So much oftener than the other way round.
      TIMES = 2

      # @!attribute machine [String] that names the other
      # @!attribute on [String]
      # @!attribute lines [Integer] in which it does
      # @!attribute back [Integer] in which it is named by the other
      Proposal = Struct.new(:machine, :on, :lines, :back)

      module_function

      # @param counts [Hash{Array(String, String)=>Integer}] lines by the machine that wrote them and the one that is
      #   named
      # @param known [Dependencies] arrows that are there
      # @return [Array<Proposal>] the clearest first
      def proposals(counts, known)
        found = counts.filter_map do |(machine, on), lines|
          back = counts.fetch([on, machine], 0)
          next if machine == on || lines < LEAST || lines < TIMES * back || known.below(machine).include?(on)

          Proposal.new(machine, on, lines, back)
        end
        found.sort_by { |one| [-one.lines, one.machine, one.on] }
      end
    end
  end
end
