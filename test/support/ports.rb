# frozen_string_literal: true

require "fileutils"
require "socket"
require "tmpdir"

module Northdrift
  # Ports for what tests start. Each process has a block of them to itself, held by a lock on a file, below those that
  # the system gives to connections on their way out: between the asking and the listening nobody else can take one.
  module Ports
    FIRST = 20_000
    BLOCK = 200
    BLOCKS = 60
    LOCKS = File.join(Dir.tmpdir, "northdrift-test-ports")

    module_function

    # @return [Integer] a port on which nobody listens
    def take
      BLOCK.times do
        port = Ports.following
        return port if free?(port)
      end
      raise "all ports of the block are in use"
    end

    def free?(port)
      TCPServer.open("127.0.0.1", port, &:close)
      UDPSocket.open { |socket| socket.bind("127.0.0.1", port) }
      true
    rescue SystemCallError
      false
    end

    class << self
      def following
        @given = (@given || -1) + 1
        first + (@given % BLOCK)
      end

      private

      # The lock is the process's until it ends.
      def first
        @first = nil unless @owner == Process.pid
        @first ||= hold.tap { @owner = Process.pid }
      end

      def hold
        FileUtils.mkdir_p(LOCKS)
        BLOCKS.times do |index|
          file = File.new(File.join(LOCKS, index.to_s), File::RDWR | File::CREAT)
          next file.close unless file.flock(File::LOCK_EX | File::LOCK_NB)

          @lock = file
          return FIRST + (index * BLOCK)
        end
        raise "all blocks of ports are held by other tests"
      end
    end
  end
end
