# frozen_string_literal: true

require_relative "../test_helper"
require "open3"

# The types that the pages are checked with are those of the document that the answers of the server are held against.
class SchemaTest < Minitest::Test
  include Northdrift

  FOLDER = File.join(ROOT, "web/openapi")
  WRITTEN = File.join(ROOT, "web/src/api/schema.ts")

  def test_the_types_are_those_of_the_document
    Dir.mktmpdir do |dir|
      path = File.join(dir, "schema.ts")
      output, status = Open3.capture2e("npm", "run", "--silent", "types", "--", "--output", path, chdir: FOLDER)
      assert_predicate status, :success?, output
      assert FileUtils.identical?(path, WRITTEN), "web/src/api/schema.ts is stale: cd web/openapi && npm run write"
    end
  end
end
