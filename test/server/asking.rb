# frozen_string_literal: true

require "json"
require "json_schemer"
require "rack/test"

module Northdrift
  # A test that asks the HTTP interface as its pages do, and holds the answers against docs/openapi.json.
  class AskingTest < StoreTest
    include Rack::Test::Methods

    DOCUMENT = JSONSchemer.openapi(JSON.parse(File.read(File.join(ROOT, "docs/openapi.json"))))
    HOST = { "HTTP_HOST" => "127.0.0.1:4280" }.freeze

    def app = @app ||= Server::App.build(@data)

    # @param schema [String, nil] of an answer that went well
    # @return [Object] the answer
    def ask(path, schema = nil, method: :get, object: nil, body: nil)
      send(
        method, path, body || (object ? JSON.generate(object) : {}), HOST.merge("CONTENT_TYPE" => "application/json")
      )
      answer = JSON.parse(last_response.body)
      name = last_response.ok? || last_response.created? ? schema : "Problem"
      assert_empty(DOCUMENT.schema(name).validate(answer).to_a.map { |error| error["error"] }) if name
      answer
    end

    def post_to(path, object, schema = nil) = ask(path, schema, method: :post, object: object)
    def patch_at(path, object, schema = nil) = ask(path, schema, method: :patch, object: object)
    def put_at(path, object, schema = nil) = ask(path, schema, method: :put, object: object)
    def remove(path, schema = nil) = ask(path, schema, method: :delete)
  end
end
