# frozen_string_literal: true

require "etc"
require "fileutils"
require "net/http"
require "socket"

module Bench
  NORTHDRIFT = File.expand_path("../bin/northdrift", __dir__)
  DIR = File.expand_path("../tmp/bench", __dir__)

  module_function

  def clock = Process.clock_gettime(Process::CLOCK_MONOTONIC)

  # @param count [Integer]
  # @param days [Integer] that they are spread over
  # @return [String] path of a file with so many lines, made once a day
  def file(count, days: 1)
    FileUtils.mkdir_p(DIR)
    path = File.join(DIR, "lines-#{count}-#{"#{days}d-" if days > 1}#{Time.now.utc.strftime('%Y%m%d')}.log")
    return path if File.exist?(path)

    lines = Lines.new(count, ends: Time.now.utc, days: days)
    File.open("#{path}.part", "w") { |file| lines.each { |line| file.puts(line) } }
    File.rename("#{path}.part", path)
    path
  end

  # Runs a command and watches the largest of its processes.
  # @return [Array(Float, Integer, String)] seconds, peak resident kilobytes of any one process, its output
  def watch(*command, input: File::NULL)
    started = clock
    reader, writer = IO.pipe
    pid = Process.spawn(*command, in: input, out: writer, err: %i[child out], pgroup: true)
    writer.close
    output = Thread.new { reader.read }
    peak = 0
    until Process.wait(pid, Process::WNOHANG)
      peak = [peak, *tree(pid).map { |child| peak_of(child) }].max
      sleep 0.4
    end
    [clock - started, peak, output.value]
  end

  def tree(pid)
    children = Dir.glob("/proc/#{pid}/task/*/children").flat_map { |path| File.read(path).split.map(&:to_i) }
    [pid, *children.flat_map { |child| tree(child) }]
  rescue SystemCallError
    []
  end

  def peak_of(pid)
    File.read("/proc/#{pid}/status")[/VmHWM:\s+(\d+)/, 1].to_i
  rescue SystemCallError
    0
  end

  # @param count [Integer]
  # @param days [Integer] that they are spread over
  # @return [String] data folder with so many lines, read once
  def database(count, days: 1)
    data = File.join(DIR, "find-#{count}#{"-#{days}d" if days > 1}")
    return data if File.exist?(File.join(data, "complete"))

    FileUtils.rm_rf(data)
    system(NORTHDRIFT, "import", "--data", data, file(count, days: days), exception: true)
    FileUtils.touch(File.join(data, "complete"))
    data
  end

  # Starts a server, which ends with this process.
  # @return [Integer] its port, once it answers
  def serve(data)
    port = TCPServer.open("127.0.0.1", 0) { |server| server.addr[1] }
    server = @server =
      Process.spawn(
        NORTHDRIFT, "serve", "--data", data, "--port", port.to_s, out: File::NULL, err: File::NULL, pgroup: true
      )
    at_exit do
      Process.kill(:TERM, -server)
    rescue Errno::ESRCH
      nil # stopped before
    end
    begin
      Net::HTTP.get(URI("http://127.0.0.1:#{port}/api/status"))
    rescue SystemCallError
      abort "the server ended" if Process.wait(server, Process::WNOHANG)
      sleep 0.2
      retry
    end
    port
  end

  # @return [Float] seconds of processors that the server started last has taken, with those that it started
  def processor_seconds
    ticks = tree(@server).sum do |pid|
      File.read("/proc/#{pid}/stat")[/.*\) (.*)/, 1].split.values_at(11, 12).sum(&:to_i)
    rescue SystemCallError
      0
    end
    ticks.fdiv(Etc.sysconf(Etc::SC_CLK_TCK))
  end

  # @param title [String] of a process that the server started last has started: it does nothing any more
  def halt(title)
    tree(@server).select { |pid| File.read("/proc/#{pid}/cmdline").start_with?(title) }
      .each { |pid| Process.kill(:STOP, pid) }
  end

  def stop_server
    tree(@server).each { |pid| Process.kill(:CONT, pid) }
    Process.kill(:TERM, -@server)
    Process.wait(@server)
  end

  def median(values) = values.sort[values.size / 2]
end

require_relative "lines"
