# frozen_string_literal: true

require_relative "../test_helper"
require_relative "asking"
require "puma"

# People log in at another provider: the small one that ships with it, by HTTP.
class ProviderTest < Northdrift::AskingTest
  include Northdrift

  BACK = "/api/session/provider/back"

  def setup
    super
    Store::Person.add("Olav", role: "administrator", password: "zither-lantern-plum")
    @port = Ports.take
    @issuer = "http://127.0.0.1:#{@port}"
    @altered = nil
    @standin = Standins::Provider.new(@issuer) { |claims| @altered ? @altered.call(claims) : claims }
    @server = Puma::Server.new(@standin, nil, { log_writer: Puma::LogWriter.null })
    @server.add_tcp_listener("127.0.0.1", @port)
    @server.run
    set
  end

  def teardown
    @server.stop(true)
    super
  end

  def set(**more)
    values = { "login_issuer" => @issuer, "login_secret" => Standins::Provider::SECRET, "login_name" => "harbour login" }
    File.write(File.join(@data, "settings.yml"), YAML.dump(values.merge(more.transform_keys(&:to_s))))
  end

  def got(path, **headers)
    get(path, {}, HOST.merge(headers.transform_keys(&:to_s)))
    last_response
  end

  # @return [String] the address that the provider sends the person back to
  def chosen(sub, address)
    query = Rack::Utils.parse_query(URI(address).query).merge("sub" => sub)
    Net::HTTP.get_response(URI("#{@issuer}/chosen?#{Rack::Utils.build_query(query)}"))["location"]
  end

  def begun = got("/api/session/provider")["location"]

  # @return [String] where the person ends
  def log_in(sub = "17")
    back = chosen(sub, begun)
    quietly { got(back.delete_prefix("http://127.0.0.1:4280")) }["location"]
  end

  # What is told to the log.
  def quietly
    kept = $stderr
    $stderr = StringIO.new
    yield
  ensure
    $stderr = kept
  end

  def who = JSON.parse(got("/api/session").body)

  def test_somebody_who_was_added_by_name
    Store::Person.add("Sunniva", role: "responder")
    assert_equal "harbour login", who["provider"]
    assert_equal "/", log_in
    assert_equal [%w[Sunniva responder], "#{@issuer} 17"],
                 [who.then { |state| [state["person"]["name"], state["role"]] }, Store::Person.named("sunniva").subject]
    cookie = last_request.env["HTTP_COOKIE"]
    assert_includes cookie, "northdrift="
    refute_includes cookie, "northdrift-login", "what was kept for the way back"
    # Whatever she is called there by then.
    Store::Person.named("sunniva").update!(name: "Someone", key: "someone")
    clear_cookies
    log_in
    assert_equal "Someone", who["person"]["name"]
    assert_equal 1, Store::AuditTrail.latest(50).count { |one| one.target == "sunniva" && one.outcome == 302 } / 2
  end

  def test_who_is_not_known_here
    assert_equal "/?login=unknown", log_in
    assert_nil who["person"]
    set(login_role: "viewer")
    assert_equal "/", log_in("18")
    assert_equal(%w[torbjorn viewer], who.then { |state| [state["person"]["name"], state["role"]] })
    Store::Person.named("torbjorn").disable
    clear_cookies
    assert_equal "/?login=unknown", log_in("18")
  end

  # Somebody there may call themselves anything.
  def test_who_has_a_password_is_not_taken_over
    Store::Person.add("Sunniva", role: "administrator", password: "plover-quarry-seven")
    set(login_role: "viewer")
    assert_equal "/?login=unknown", log_in
    assert_nil Store::Person.named("sunniva").subject
  end

  # An address of mail says who somebody is where it was checked.
  def test_mail_that_was_not_checked
    Store::Person.add("olga@tarnholm.example", role: "viewer")
    @altered = ->(claims) { claims.merge("email" => "olga@tarnholm.example") }
    assert_equal "/?login=unknown", log_in
    @altered = ->(claims) { claims.merge("email" => "olga@tarnholm.example", "email_verified" => true) }
    assert_equal "/", log_in
  end

  # OpenID Connect Core 1.0, section 3.1.3.7: what makes an identity token worth nothing.
  def test_tokens_that_are_not_taken
    Store::Person.add("Sunniva", role: "viewer")
    other = OpenSSL::PKey::RSA.new(2048)
    signed = ->(claims, key, alg, **header) { JSON::JWT.new(claims).tap { |jwt| jwt.header.update(header) }.sign(key, alg).to_s }
    {
      "of another issuer" => ->(claims) { claims.merge("iss" => "https://elsewhere.example") },
      "for another application" => ->(claims) { claims.merge("aud" => "else") },
      "for others too" => ->(claims) { claims.merge("aud" => %w[northdrift else], "azp" => "else") },
      "that has ended" => ->(claims) { claims.merge("exp" => Time.now.to_i - 1) },
      "of another login" => ->(claims) { claims.merge("nonce" => "x") },
      "without a nonce" => ->(claims) { claims.except("nonce") },
      "of nobody" => ->(claims) { claims.merge("sub" => "") },
      "by another key" => ->(claims) { signed.call(claims, other, :RS256, kid: "1") },
      "by a key that is not published" => ->(claims) { signed.call(claims, other, :RS256, kid: "2") },
      "signed by nobody" => ->(claims) { JSON::JWT.new(claims).to_s },
      "signed with what all know" => lambda { |claims|
        signed.call(claims, @standin.key.public_key.to_pem, :HS256, kid: "1")
      },
      "cut" => ->(claims) { signed.call(claims, @standin.key, :RS256, kid: "1")[0..-9] }, "none" => ->(_) { "" }
    }.each do |says, alter|
      @altered = alter
      assert_equal ["/?login=refused", nil], [log_in, who["person"]], says
    end
    @altered = nil
    assert_equal "/", log_in
  end

  # A login that somebody else began would log a person in as them.
  def test_the_way_back_belongs_to_the_browser
    Store::Person.add("Sunniva", role: "viewer")
    back = chosen("17", begun).delete_prefix("http://127.0.0.1:4280")
    clear_cookies
    assert_equal "/?login=late", got(back)["location"]
    begun
    assert_equal "/?login=late", got(back)["location"], "the state of another login"
    assert_equal "/?login=late", got(BACK)["location"]
    begun
    state = Rack::Utils.parse_query(URI(begun).query)["state"]
    assert_equal "/?login=refused", got("#{BACK}?state=#{state}&error=access_denied")["location"]
    begun
    assert_equal "/?login=refused", quietly {
      got("#{BACK}?state=#{Rack::Utils.parse_query(URI(begun).query)['state']}&code=made-up")
    }["location"]
    assert_nil who["person"]
  end

  def test_a_code_is_taken_once
    Store::Person.add("Sunniva", role: "viewer")
    first = begun
    back = chosen("17", first).delete_prefix("http://127.0.0.1:4280")
    jar = rack_mock_session.cookie_jar.to_hash
    assert_equal "/", got(back)["location"]
    clear_cookies
    jar.each { |name, value| set_cookie("#{name}=#{Rack::Utils.escape(value)}") }
    assert_equal "/?login=refused", quietly { got(back) }["location"]
  end

  def test_a_provider_that_does_not_answer
    @server.stop(true)
    assert_equal("/?login=unreachable", quietly { begun })
    set(login_issuer: "")
    assert_equal 404, got("/api/session/provider").status
    assert_nil who["provider"]
  end

  def test_settings_that_will_not_do
    ["ftp://x", "http://logs.example", "no address", "https://"].each do |address|
      set(login_issuer: address)
      assert_raises(Error, address) { Server::Access::Provider.of(Store::MachineSettings.current) }
    end
  end
end
