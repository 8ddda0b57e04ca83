# frozen_string_literal: true

require "minitest"

module Northdrift
  # Chance that can be had again: what is random has a seed, which is told where a test fails, and taken from SEED.
  module Chance
    FULL = !ENV["NORTHDRIFT_FULL"].to_s.empty?

    # @param usual [Integer] seed of ordinary runs; those of bin/test --full have a new one each time
    # @return [Random]
    def seeded(usual)
      @seed = Integer(ENV.fetch("SEED") { FULL ? Random.new_seed % 1_000_000 : usual })
      Random.new(@seed)
    end

    # @param sample [Integer] times in ordinary runs
    # @param all [Integer] times in bin/test --full
    # @return [Integer]
    def often(sample, all) = FULL ? all : sample

    def after_teardown
      super
      warn "#{self.class}##{name} is played again with SEED=#{@seed}" if @seed && !passed?
    end
  end
end

Minitest::Test.include(Northdrift::Chance)
