# frozen_string_literal: true

require_relative "../test_helper"
require "open3"

# The pages by HTTPS, asked by curl.
class TlsTest < Northdrift::StoreTest
  include Northdrift
  include Northdrift::Serving

  PASSWORD = "zither-lantern-plum"

  def setup
    super
    import_text("Nov 22 06:00:00 alder app: one\n")
    Intake::Live::Certificate.load(@dir)
  end

  def teardown
    stop_serving
    super
  end

  def file(what) = File.join(@dir, Intake::Live::Certificate::FILES.fetch(what))

  def curl(*options, path: "/api/status")
    Open3.capture2e("curl", "--silent", "--show-error", "--include", "--max-time", "10", *options,
                    "https://localhost:#{@port}#{path}")
  end

  def test_the_pages_come_by_https_and_by_nothing_else
    serve(tls: [file(:certificate), file(:key)])
    trusted = ["--cacert", file(:certificate)]
    said, status = curl(*trusted)
    assert_predicate status, :success?, said
    assert_match(%r{\AHTTP/1.1 200.*strict-transport-security: max-age=31536000.*"lines":1}m, said)
    refute_predicate curl.last, :success?, "a certificate that nobody vouches for"
    refute_predicate curl(*trusted, "--tls-max", "1.1").last, :success?
    plain, = Open3.capture2e("curl", "--silent", "--max-time", "5", "http://localhost:#{@port}/api/status")
    refute_includes plain, "lines"
    Store::Database.open(@data)
    Store::Person.add("Vera", role: "viewer", password: PASSWORD)
    ActiveRecord::Base.connection_handler.clear_all_connections!
    said, = curl(*trusted, "--json", JSON.generate(name: "Vera", password: PASSWORD), path: "/api/session")
    assert_match(/set-cookie: northdrift=[^\n]+; secure/i, said)
    origin = ["--request", "DELETE", "--header", "Origin: http://localhost:#{@port}"]
    assert_match(/403.*own pages only/m, curl(*trusted, *origin, path: "/api/session").first)
  end

  # One connection for all that a page wants to hear of, and one that reads nothing holds up no other.
  def test_pages_listen_by_https
    serve(tls: [file(:certificate), file(:key)])
    silent, heard = Array.new(2) { secured }
    [silent, heard].each { |one| one.write("GET /api/events HTTP/1.1\r\nHost: localhost:#{@port}\r\n\r\n") }
    said = +""
    eventually("what is new") do
      piece = heard.read_nonblock(1 << 16, exception: false)
      said << piece if piece.is_a?(String)
      said.include?("event: change\ndata: {\"lines\":1}")
    end
    Store::Database.open(@data)
    import_text("Nov 22 06:00:01 alder app: two\n", name: "two.log")
    eventually("the next line") do
      piece = heard.read_nonblock(1 << 16, exception: false)
      said << piece if piece.is_a?(String)
      said.include?("{\"lines\":2}")
    end
  ensure
    [silent, heard].each { |one| one&.close }
  end

  def secured
    context = OpenSSL::SSL::SSLContext.new.tap { |one| one.ca_file = file(:certificate) }
    OpenSSL::SSL::SSLSocket.new(TCPSocket.new("localhost", @port), context).tap do |socket|
      socket.sync_close = true
      socket.connect
    end
  end

  def test_files_that_will_not_do
    other = Dir.mktmpdir
    Intake::Live::Certificate.load(other)
    key = File.join(other, Intake::Live::Certificate::FILES[:key])
    {
      [file(:certificate), nil] => "both", ["", file(:key)] => "both",
      [File.join(@dir, "none"), file(:key)] => "none cannot be read", [file(:key), file(:key)] => "cannot be read",
      [file(:certificate), file(:certificate)] => "cannot be read", [file(:certificate), key] => "is not that of"
    }.each do |paths, reason|
      assert_includes assert_raises(Northdrift::Error) { Server::TlsFiles.of(*paths) }.message, reason
    end
    assert_nil Server::TlsFiles.of(nil, "")
  ensure
    FileUtils.rm_rf(other)
  end

  def test_a_certificate_that_has_run_out
    files = Server::TlsFiles.of(file(:certificate), file(:key))
    certificate = OpenSSL::X509::Certificate.new(File.read(file(:certificate)))
    certificate.not_after = Time.now - 60
    certificate.sign(OpenSSL::PKey.read(File.read(file(:key))), OpenSSL::Digest.new("SHA256"))
    File.write(file(:certificate), certificate.to_pem)
    assert_includes assert_raises(Northdrift::Error) { files.check }.message, "holds from"
  end
end
