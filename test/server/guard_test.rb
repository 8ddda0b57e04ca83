# frozen_string_literal: true

require_relative "../test_helper"
require "rack/test"

# Who is answered, and what is taken from whom.
class GuardTest < Northdrift::StoreTest
  include Northdrift
  include Rack::Test::Methods

  def app = @app ||= Server::App.build(@data, hosts: ["logs.tarnholm.example"])

  def status(path = "/api/status", method: :get, **headers)
    public_send(method, path, {}, headers.transform_keys(&:to_s))
    last_response.status
  end

  def test_names_that_are_its_own
    {
      "127.0.0.1" => 200, "127.0.0.1:4280" => 200, "localhost:4280" => 200, "[::1]:4280" => 200,
      "logs.tarnholm.example" => 200, "logs.tarnholm.example:80" => 200, "evil.example" => 421,
      "127.0.0.1.evil.example" => 421, "localhost.evil.example:4280" => 421, "" => 421, "LOCALHOST@evil.example" => 421
    }.each { |host, expected| assert_equal expected, status(HTTP_HOST: host), host }
  end

  # The Origin header of the Fetch standard: of pages elsewhere, and of none ("null").
  def test_changes_come_from_its_own_pages
    {
      nil => 404, "http://127.0.0.1:4280" => 404, "http://evil.example" => 403, "null" => 403,
      "http://127.0.0.1:4281" => 403
    }.each do |origin, expected|
      assert_equal expected,
                   status(
                     "/api/imports/99", method: :delete, HTTP_HOST: "127.0.0.1:4280", **{ HTTP_ORIGIN: origin }.compact
                   ), origin
    end
    assert_equal 200, status(HTTP_HOST: "127.0.0.1:4280", HTTP_ORIGIN: "http://evil.example"),
                 "reading changes nothing, and the browser shows it to nobody"
  end

  # Who asks through a proxy is who the proxy says, and nobody says it but a proxy that is known.
  def test_who_asks_through_proxies
    {
      [{}, "203.0.113.9"] => ["203.0.113.9", "http"],
      [{ "HTTP_X_FORWARDED_FOR" => "198.51.100.1", "HTTP_X_FORWARDED_PROTO" => "https" }, "203.0.113.9"] =>
        ["203.0.113.9", "http"],
      [{ "HTTP_X_FORWARDED_FOR" => "198.51.100.1", "HTTP_X_FORWARDED_PROTO" => "https" }, "10.40.0.2"] =>
        ["198.51.100.1", "https"],
      [{ "HTTP_X_FORWARDED_FOR" => "6.6.6.6, 198.51.100.1,10.41.7.7" }, "10.40.0.2"] => ["198.51.100.1", "http"],
      [{ "HTTP_X_FORWARDED_FOR" => "2001:db8::1" }, "::ffff:10.40.0.2"] => ["2001:db8::1", "http"],
      [{ "HTTP_X_FORWARDED_FOR" => "<script>", "HTTP_X_FORWARDED_PROTO" => "ftp" }, "10.40.0.2"] =>
        ["10.40.0.2", "http"],
      [{ "HTTP_X_FORWARDED_FOR" => "10.41.0.1" }, "10.40.0.2"] => ["10.41.0.1", "http"]
    }.each do |(headers, address), expected|
      seen = nil
      app = Server::Access::Proxies.new(->(env) { seen = env }, trusted: ["10.40.0.2", "10.41.0.0/16"])
      app.call({ "REMOTE_ADDR" => address, "rack.url_scheme" => "http" }.merge(headers))
      assert_equal expected, seen.values_at("REMOTE_ADDR", "rack.url_scheme"), headers
      assert_empty seen.keys.grep(/FORWARDED/)
    end
    error = assert_raises(Error) { Server::Access::Proxies.new(nil, trusted: ["proxy"]) }
    assert_includes error.message, "“proxy” is no address"
  end

  # A page that came by HTTP may be somebody else's on the way.
  def test_by_https_changes_come_from_pages_that_came_by_it
    secure = { "HTTP_HOST" => "logs.tarnholm.example", "HTTPS" => "on", "rack.url_scheme" => "https" }
    { "https://logs.tarnholm.example" => 404, "http://logs.tarnholm.example" => 403 }.each do |origin, expected|
      delete("/api/imports/99", {}, secure.merge("HTTP_ORIGIN" => origin))
      assert_equal expected, last_response.status, origin
      next if expected == 403

      assert_equal "max-age=31536000", last_response.headers["strict-transport-security"]
    end
  end

  def test_every_answer_says_what_a_page_may_load
    ["/", "/api/status", "/api/nothing", "/no-such-page"].each do |path|
      status(path, HTTP_HOST: "localhost")
      policy = last_response.headers["content-security-policy"]
      assert_includes policy, "default-src 'none'", path
      refute_match(/unsafe|\*|http:/, policy)
      assert_equal "nosniff", last_response.headers["x-content-type-options"]
    end
    %w[/ /api/status /api/status?x[]=1].each do |path|
      status(path, HTTP_HOST: "localhost")
      assert_equal "no-store", last_response.headers["cache-control"], path
    end
  end

  def test_a_nonce_is_used_once
    nonces =
      Array.new(20) do
        status("/", HTTP_HOST: "localhost") && last_response.headers["content-security-policy"][/nonce-([^']+)/, 1]
      end
    assert_equal 20, nonces.uniq.size
    assert(nonces.all? { |nonce| nonce.size >= 22 })
  end

  def test_no_method_that_is_not_meant
    %i[put patch].each do |method|
      assert_includes [404, 405], status("/api/status", method: method, HTTP_HOST: "localhost")
    end
  end

  # Microseconds since 1970 are exact in JavaScript's numbers until 2255 (ECMA-262, Number.MAX_SAFE_INTEGER).
  def test_times_of_the_next_century
    import_text("2026-11-22T06:12:08Z x\n")
    far = Time.utc(2200).to_i * 1_000_000
    assert_equal 200, status("/api/lines?from=0&to=#{far}", HTTP_HOST: "localhost")
    assert_equal 1, JSON.parse(last_response.body)["lines"].size
    assert_equal 400, status("/api/lines?to=#{(1 << 53) + 1}", HTTP_HOST: "localhost")
  end

  def test_parameters_that_make_no_sense_are_told
    import_text("2026-11-22T06:12:08Z x\n")
    {
      "/api/lines?limit=0" => "limit", "/api/lines?limit=99999" => "limit", "/api/lines?from=noon" => "from",
      "/api/histogram?bins=-1" => "bins", "/api/histogram?by=colour" => "by", "/api/lines?hide=loud" => "hide",
      "/api/patterns?with=tomorrow" => "with"
    }.each do |path, parameter|
      assert_equal 400, status(path, HTTP_HOST: "localhost"), path
      assert_equal parameter, JSON.parse(last_response.body)["parameter"], path
    end
    assert_equal 400, status("/api/lines?find=%FF", HTTP_HOST: "localhost")
    assert_equal 400, status("/api/lines?find=#{'a' * 10_001}", HTTP_HOST: "localhost")
  end

  # Every route of the application is a page, and nothing else is.
  def test_addresses_of_pages
    Dir.mktmpdir do |dist|
      File.write(File.join(dist, "index.html"), "<p>")
      pages = Server::Pages.new(dist)
      answer = ->(path, method = "GET") { pages.call({ "PATH_INFO" => path, "REQUEST_METHOD" => method }) }
      routes = File.read(File.join(ROOT, "web/src/App.tsx")).scan(/<Route path="([^"*]+)"/).flatten
      assert_operator routes.size, :>, 15
      ["/", *routes].each { |route| assert_equal 200, answer.call(route.sub(":id", "7")).first, route }
      ["/nothing", "/logbook/nothing", "/cases/1/2", "/v1/logs"].each do |path|
        assert_equal 404, answer.call(path).first, path
      end
      assert_equal ["<p>"], answer.call("/nothing").last
      [["/%00"], ["/%ff"], ["/v1/logs", "POST"], ["/", "POST"]].each do |path, method|
        status, headers, body = answer.call(path, *method)
        assert_equal [404, Server::Resource::PROBLEM], [status, headers["content-type"]], path
        assert_equal 404, JSON.parse(body.join)["status"]
      end
    end
  end
end
