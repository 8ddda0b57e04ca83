# frozen_string_literal: true

require "socket"

module Northdrift
  # A mail server (RFC 5321) that does what a test tells it: takes a message, refuses it, dies within its data, or says
  # nothing.
  class MailServer
    # @return [Array<Array(Array<String>, String)>] recipients and data of each message that was taken
    attr_reader :taken
    # @return [Integer] connections
    attr_reader :asked
    # @return [Symbol] :take, :refuse, :die, or :die_late, when it has taken the message but not said so
    attr_accessor :manner

    def initialize(manner = :take)
      @manner = manner
      @taken = []
      @asked = 0
      @server = TCPServer.new("127.0.0.1", 0)
      @thread = Thread.new { loop { serve(@server.accept) } }
    end

    def port = @server.addr[1]

    def place = "127.0.0.1:#{port}"

    def stop
      @thread.kill
      @server.close
    end

    private

    def serve(socket)
      @asked += 1
      socket.write("220 stand-in\r\n")
      recipients = []
      while (line = socket.gets)
        case line
        when /\ARCPT TO:<(.+)>/i then answer(socket, "250 ok") && recipients << ::Regexp.last_match(1)
        when /\AMAIL/i then answer(socket, @manner == :refuse ? "451 come again" : "250 ok")
        when /\ADATA/i then break unless data(socket, recipients)
        when /\AQUIT/i then break answer(socket, "221 bye")
        else answer(socket, "250 ok")
        end
      end
    rescue SystemCallError, IOError
      nil
    ensure
      socket.close
    end

    def answer(socket, text) = socket.write("#{text}\r\n")

    def data(socket, recipients)
      answer(socket, "354 go on")
      return if @manner == :die && socket.gets

      text = +""
      while (line = socket.gets) && line != ".\r\n"
        text << line.delete_prefix(".")
      end
      @taken << [recipients.dup, text]
      @manner == :die_late ? nil : answer(socket, "250 taken")
    end
  end
end
