# frozen_string_literal: true

ENV["BUNDLE_GEMFILE"] ||= File.expand_path("../Gemfile", __dir__)
require "bundler/setup"
require_relative "coverage_notes"
require "bcrypt"
require "minitest/autorun"
require "fileutils"
require "stringio"
require "tmpdir"
require_relative "../northdrift"

Dir[File.join(__dir__, "support/*.rb")].each { |path| require path }

# Stand-ins of tests are on this computer, and so are their files.
ENV["NORTHDRIFT_FORWARD"] = "127.0.0.0/8,::1"
ENV["NORTHDRIFT_FOLLOW"] = Dir.tmpdir

# As quick as a password can be checked: what takes long is tested where it is meant.
BCrypt::Engine.cost = BCrypt::Engine::MIN_COST

# All tests play on one day, whenever they are run.
Northdrift::Store::Clock.turn(Northdrift::Worlds::MOMENT)

module Northdrift
  # Helpers that tests of all rings share.
  module Helpers
    NOW = Time.utc(2026, 11, 23, 12)

    def micros(time) = (time.to_r * 1_000_000).to_i

    def context(zone: "UTC", reference: NOW, machine: nil)
      Reading::Context.new(clock: Reading::Clock.new(zone: zone, reference_us: micros(reference)), machine: machine)
    end

    # @return [Event] how one line is read
    def read(line, **options) = Reading::Catalogue.read(line.b, context(**options))

    # @return [Array<Event>] how a text is read
    def records(text, chunk: 1 << 16, **options)
      events = []
      reader = Reading::Records.new(context(**options)) { |event| events << event }
      bytes = text.b
      (0...bytes.bytesize).step(chunk) { |at| reader.push(bytes.byteslice(at, chunk)) }
      reader.finish
      events
    end

    # The bytes that events stand for.
    def whole(events) = events.map { |event| event.raw + event.ending }.join
  end

  # A test with a data folder of its own.
  class StoreTest < Minitest::Test
    include Helpers
    include Soundness
    include Waiting

    def setup
      @dir = Dir.mktmpdir("northdrift-test")
      @data = File.join(@dir, "data")
      Store::Database.open(@data)
    end

    def teardown
      assert_sound if passed? && Store::Database.there?(@data)
      ActiveRecord::Base.connection_handler.clear_all_connections!
      FileUtils.rm_rf(@dir)
    end

    def write(name, text)
      path = File.expand_path(name, @dir)
      raise ArgumentError, "#{name} is outside the test's folder" unless path.start_with?("#{File.expand_path(@dir)}/")

      FileUtils.mkdir_p(File.dirname(path))
      File.binwrite(path, text)
      path
    end

    def import(*paths, **options) = Intake::Importer.new(**options).import(Intake::Parts.new(paths))

    def import_text(text, name: "test.log", **options) = import(write(name, text), **options)

    def question(find = "", **options) = Store::Question.new(find: find, **options)

    # @return [Array<String>] raw texts of the lines that are found, in order
    def found(find = "", **options) = question(find, **options).to_enum(:each).map { |event| Text.utf8(event.raw) }
  end
end
