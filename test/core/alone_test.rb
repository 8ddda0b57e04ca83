# frozen_string_literal: true

require_relative "../test_helper"
require "open3"

class CoreAloneTest < Minitest::Test
  # The computation must not come to depend on the database or the web.
  def test_core_loads_without_active_record_and_sinatra
    script = <<~'RUBY'
      require "zeitwerk"
      module Northdrift; class Error < StandardError; end; end
      loader = Zeitwerk::Loader.new
      loader.push_dir("core", namespace: Northdrift)
      loader.setup
      loader.eager_load
      abort "knows #{%w[ActiveRecord Sinatra SQLite3 Puma].select { |name| Object.const_defined?(name) }}" if %w[ActiveRecord Sinatra SQLite3 Puma].any? { |name| Object.const_defined?(name) }
      context = Northdrift::Reading::Context.new(clock: Northdrift::Reading::Clock.new(reference_us: 0))
      print Northdrift::Reading::Catalogue.read("2026-11-22T06:12:08Z ERROR x".b, context).severity
    RUBY
    output, status = Open3.capture2e("bundle", "exec", "ruby", "-e", script, chdir: Northdrift::ROOT)
    assert_predicate status, :success?, output
    assert_equal "3", output
  end
end
