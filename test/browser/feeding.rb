# frozen_string_literal: true

require "json"
require "net/http"
require "socket"

module Northdrift
  # A source of lines that a test sets up in the interface, and feeds.
  module Feeding
    def free_port = Ports.take

    def line(text, at: place.now, machine: "alder")
      "<13>1 #{at.utc.strftime('%Y-%m-%dT%H:%M:%S.%6NZ')} #{machine} app 7 - - #{text}"
    end

    def send_lines(port, *texts, **about)
      TCPSocket.open("127.0.0.1", port) { |socket| texts.each { |text| socket.puts(line(text, **about)) } }
    end

    # Waits until whoever takes lines in goes by the rules that a person has made so far. It takes all of them at once:
    # when it goes by one that was made after them, it goes by them too.
    def rules_hold
      word = "probe#{@probes = (@probes || 0) + 1}x#{Process.pid}"
      rule = request(Net::HTTP::Post, "/api/noise-rules", name: word, find: word, action: "drop")["id"]
      eventually("the rules to hold") do
        send_lines(probing, word)
        request(Net::HTTP::Get, "/api/noise-rules")["rules"].find { |one| one["id"] == rule }["lines"].positive?
      end
      request(Net::HTTP::Delete, "/api/noise-rules/#{rule}")
    end

    # @return [Integer] port of a source that the test's own lines do not come from
    def probing
      @probing ||= free_port.tap do |port|
        request(Net::HTTP::Post, "/api/feeds", name: "probe #{port}", kind: "tcp", settings: { port: port })
        eventually { listening?(port) }
      end
    end

    def add_source(name, port)
      open_page("/intake")
      click_button "Add a source"
      fill_in "Name", with: name
      fill_in "Port", with: port
      within("[role=dialog]") { click_button "Add" }
      assert_text "Waiting for the first line"
      eventually { listening?(port) }
    end

    def listening?(port)
      TCPSocket.open("127.0.0.1", port, &:close) || true
    rescue SystemCallError
      false
    end

    # @return [Hash] what the server answers
    def request(kind, path, object = {})
      uri = URI("#{place.address}#{path}")
      asked = kind.new(uri, "Content-Type" => "application/json")
      asked.body = JSON.generate(object) unless kind == Net::HTTP::Get
      JSON.parse(Net::HTTP.start(uri.host, uri.port) { |http| http.request(asked) }.body)
    end
  end
end
