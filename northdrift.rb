# frozen_string_literal: true

# What was compiled is kept from one start to the next, where it can be written.
cache = File.join(__dir__, "tmp/cache")
if File.writable?([cache, File.dirname(cache), __dir__].find { |dir| File.exist?(dir) })
  require "bootsnap"
  Bootsnap.setup(cache_dir: cache, development_mode: false, compile_cache_yaml: false)
end

require "oj"
require "zeitwerk"

# Numbers are written with as many digits as tell them apart, and read as such: what is clicked on must be what is
# found.
Oj.default_options = { float_precision: 0, bigdecimal_load: :float }

# A workbench for finding out from the logs what broke, when it started and what changed just before.
#
# The code stands in rings; each may know those before it and none after:
# `core` (computation) → `store` (database) → `intake` (how bytes arrive) → `server` (HTTP).
module Northdrift
  ROOT = __dir__
  VERSION = "0.1.0"

  # The rings outside of core have a namespace of their own.
  module Store; end
  module Intake; end
  module Server; end
  module Demo; end
  module Standins; end

  # Errors that a person can cause. Their messages are written for that person.
  class Error < StandardError; end

  # @return [Zeitwerk::Loader] one loader for the whole house
  LOADER = Zeitwerk::Loader.new.tap do |loader|
    loader.push_dir(File.join(ROOT, "core"), namespace: Northdrift)
    loader.push_dir(File.join(ROOT, "store"), namespace: Store)
    loader.push_dir(File.join(ROOT, "intake"), namespace: Intake)
    loader.push_dir(File.join(ROOT, "server"), namespace: Server)
    loader.push_dir(File.join(ROOT, "demo"), namespace: Demo)
    loader.push_dir(File.join(ROOT, "standins"), namespace: Standins)
    # Folders of the database's ring are for the reader's eye; their classes have one namespace.
    loader.collapse(File.join(ROOT, "store/{asking,explaining,keeping,records,rows,seeing,surveys,writing}"))
    loader.ignore(File.join(ROOT, "store/migrations"), File.join(ROOT, "demo/start"))
    loader.inflector.inflect(
      "rfc5424" => "Rfc5424", "rfc3164" => "Rfc3164", "sql" => "Sql", "api" => "Api", "cli" => "Cli"
    )
    loader.setup
  end
end
