# frozen_string_literal: true

require_relative "../test_helper"
require_relative "asking"
require "rubygems/package"

# What strangers write, and pages elsewhere send, does nothing beyond what it says.
class AbuseTest < Northdrift::AskingTest
  include Northdrift

  EVENT =
    '<Event xmlns="http://schemas.microsoft.com/win/2004/08/events/event"><System><Provider Name="x"/>' \
    '<EventID>1</EventID><TimeCreated SystemTime="2026-11-22T06:00:00Z"/><Computer>alder</Computer></System>' \
    '<EventData><Data Name="a">%s</Data></EventData></Event>'
  RECORD =
    "<log><record><date>2026-11-22T06:00:00</date><millis>1795327200000</millis><sequence>1</sequence>" \
    "<logger>a</logger><level>INFO</level><thread>1</thread><message>%s</message></record></log>"
  # XML 1.0, section 4.2: one that stands for a file, and ten times ten times … the one before.
  OUTER = '<!DOCTYPE r [<!ENTITY x SYSTEM "file:///etc/passwd">]>'
  LAYERS = (1..12).map { |at| "<!ENTITY x#{at} \"#{"&x#{at - 1};" * 10}\">" }.join
  NESTED = "<!DOCTYPE r [<!ENTITY x0 \"ha\">#{LAYERS}<!ENTITY x \"&x12;\">]>".freeze

  def test_entities_of_xml_stand_for_nothing
    [OUTER, NESTED].product([EVENT, RECORD], ["", '<?xml version="1.0"?>']).each_with_index do |(type, form, first), at|
      text = "#{first}#{type}#{format(form, '&x;')}\n"
      import_text(text, name: "#{at}.xml")
      stored = question("").page.events.map(&:raw).join("\n")
      assert_includes stored, text.strip
      refute_match(/root:|haha/, stored)
      refute_match(/root:|haha/, question("").page.events.map { |event| event.fields.to_s }.join)
    end
  end

  # RFC 9110, section 5.5: a name that a stranger chose ends no header.
  def test_names_of_files_end_no_header
    import_text("Nov 22 06:00:00 alder app: one\n")
    source = Store::Source.sole
    ["a\r\nSet-Cookie: x=1", "a\"; filename=\"b", "a\nb", "../../x/y", "\u{202E}gol.exe", "ø\tå"].each do |name|
      source.update!(name: name)
      get("/api/sources/#{source.id}/text", {}, HOST)
      assert_equal 200, last_response.status
      headers = last_response.headers
      assert_empty headers.keys.grep(/cookie/i)
      assert_empty headers.values.grep(/[\r\n]/)
      told = headers["content-disposition"]
      assert_match(/\Aattachment; filename="[^"\r\n]*"(?:; filename\*=\S+)?\z/, told, name)
      refute_includes told, "/"
    end
  end

  # What an archive says of places outside stays a name, and a link leads nowhere.
  def test_archives_reach_nothing_outside
    path = write("in/up.tar", "")
    absolute = File.join(@dir, "absolute.log")
    File.open(path, "wb") do |file|
      Gem::Package::TarWriter.new(file) do |tar|
        tar.add_file("../outside.log", 0o644) { |entry| entry.write("Nov 22 06:00:00 alder app: one\n") }
        tar.add_file(absolute, 0o644) { |entry| entry.write("Nov 22 06:00:01 alder app: two\n") }
        tar.add_symlink("passwd.log", "/etc/passwd", 0o644)
      end
    end
    import(path)
    assert_equal %w[one two], question("").page.events.map(&:message).sort
    assert_equal %w[data in], Dir.children(@dir).sort, "nothing was put anywhere"
  end

  # By a form, by a script, and as text that needs no leave (Fetch, "CORS-safelisted request-header").
  def test_no_page_elsewhere_changes_anything
    body = { name: "mine", query: "find=x" }.to_json
    types = %w[text/plain application/x-www-form-urlencoded multipart/form-data application/json]
    elsewhere = [
      { "HTTP_ORIGIN" => "http://evil.example" }, { "HTTP_ORIGIN" => "null" },
      { "HTTP_SEC_FETCH_SITE" => "cross-site" }, { "HTTP_SEC_FETCH_SITE" => "same-site" }
    ]
    types.product(elsewhere).each do |type, headers|
      post("/api/searches", body, HOST.merge(headers, "CONTENT_TYPE" => type))
      assert_equal 403, last_response.status, [type, headers]
    end
    assert_equal 0, Store::Search.count
  end
end
