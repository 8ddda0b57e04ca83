# frozen_string_literal: true

# Makes the worlds in which tests play, before the tests begin: all of them would wait for the first who needs one.
ENV["BUNDLE_GEMFILE"] ||= File.expand_path("../Gemfile", __dir__)
require "bundler/setup"
require_relative "../northdrift"
require_relative "support/worlds"

worlds = Northdrift::Worlds::ALL.map { |moment| fork { Northdrift::Worlds.prepared(moment) } }
exit 1 unless worlds.map { |pid| Process.wait2(pid).last.success? }.all?
