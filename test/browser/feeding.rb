# frozen_string_literal: true

require "json"
require "net/http"
require "socket"

module Northdrift
  # A source of lines that a test sets up in the interface, and feeds.
  module Feeding
    def free_port = TCPServer.open("127.0.0.1", 0) { |server| server.addr[1] }

    def line(text, at: Time.now) = "<13>1 #{at.utc.strftime('%Y-%m-%dT%H:%M:%S.%6NZ')} alder app 7 - - #{text}"

    def send_lines(port, *texts, at: Time.now) = TCPSocket.open("127.0.0.1", port) { |socket| texts.each { |text| socket.puts(line(text, at: at)) } }

    # Who reads and who sends looks each second at the rules that hold; on a busy machine its turn comes later.
    def let_it_be_taken
      started, used = [Process::CLOCK_MONOTONIC, Process::CLOCK_PROCESS_CPUTIME_ID].map { |clock| Process.clock_gettime(clock) }
      nil while Process.clock_gettime(Process::CLOCK_PROCESS_CPUTIME_ID) - used < 0.1
      sleep 25 * (Process.clock_gettime(Process::CLOCK_MONOTONIC) - started)
    end

    def add_source(name, port)
      open_page("/intake", demo: :intake)
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
      uri = URI("#{Browser.server(demo: :intake)}#{path}")
      answer = Net::HTTP.start(uri.host, uri.port) do |http|
                 http.request(kind.new(uri, "Content-Type" => "application/json").tap do |asked|
                                                                           asked.body = JSON.generate(object) unless kind == Net::HTTP::Get
end)
end
      JSON.parse(answer.body)
    end
  end
end
