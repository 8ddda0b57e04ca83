# frozen_string_literal: true

require "thor"

module Northdrift
  module Server
    # What all commands of the command line share.
    class Commands < Thor
      check_unknown_options!
      remove_command :tree

      def self.exit_on_failure? = true

      # As usages name it: what was called, not the file that Ruby was given.
      def self.basename = "northdrift"
    end
  end
end
