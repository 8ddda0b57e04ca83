# frozen_string_literal: true

require "open3"

module Northdrift
  # The application as a person starts it, on a data folder of its own and at a moment of its own.
  class Place
    include Waiting

    # @return [String] "http://127.0.0.1:…"
    attr_reader :address
    # @return [Float] seconds by which its clock is ahead
    attr_reader :ahead
    # @return [String] its data folder
    attr_reader :data

    # @param demo [Boolean] with the demo world, or with nothing
    # Of all people that are given.
    PASSWORD = "zither-lantern-plum"

    # @param moment [Time] what its clock says when it starts
    # @param people [Hash{String=>String}] roles by name; where there are some, everybody logs in
    # @param provider [String, nil] what another provider is called, whose people log in as viewers
    def initialize(demo:, moment: Worlds::MOMENT, people: {}, provider: nil)
      @dir = Dir.mktmpdir("northdrift-browser")
      @data = demo ? Worlds.copy(moment, @dir) : File.join(@dir, "data")
      @ahead = moment.to_f - Time.now.to_f
      people.each { |name, role| add(name, role) }
      port = Ports.take
      @address = "http://127.0.0.1:#{port}"
      log = File.join(@dir, "server.log")
      command = [File.join(ROOT, "bin/northdrift"), "serve", "--data", @data, "--port", port.to_s]
      environment = { Store::Clock::VARIABLE => @ahead.to_s, **(provider ? provide(provider, log) : {}) }
      @pid = Process.spawn(environment, *command, out: log, err: log, pgroup: true)
      await(port, log)
    end

    # @return [Time] what its clock says
    def now = Time.now.utc + @ahead

    def stop
      [@provider, @pid].compact.each do |pid|
        Process.kill(:TERM, -pid)
        Process.wait(pid)
      end
    rescue SystemCallError
      nil
    ensure
      FileUtils.rm_rf(@dir)
    end

    private

    # @return [Hash{String=>String}] what tells the server of it
    def provide(name, log)
      port = Ports.take
      command = [File.join(ROOT, "bin/northdrift"), "standin", "provider", "--port", port.to_s]
      @provider = Process.spawn(*command, out: log, err: log, pgroup: true)
      {
        "NORTHDRIFT_LOGIN_ISSUER" => "http://127.0.0.1:#{port}", "NORTHDRIFT_LOGIN_NAME" => name,
        "NORTHDRIFT_LOGIN_SECRET" => Standins::Provider::SECRET, "NORTHDRIFT_LOGIN_ROLE" => "viewer"
      }
    end

    def add(name, role)
      command = [File.join(ROOT, "bin/northdrift"), "person", "add", name, "--role", role, "--data", @data]
      said, status = Open3.capture2e(*command, stdin_data: "#{PASSWORD}\n")
      raise "#{name} was not added: #{said}" unless status.success?
    end

    def await(port, log)
      eventually("an answer of the server") do
        raise "the server did not start: #{File.read(log)}" if Process.wait(@pid, Process::WNOHANG)

        answers?(port)
      end
    end

    def answers?(port)
      Net::HTTP.get_response("127.0.0.1", "/api/session", port).is_a?(Net::HTTPSuccess)
    rescue SystemCallError, IOError
      false
    end

    def flunk(message) = raise(message)
  end
end
