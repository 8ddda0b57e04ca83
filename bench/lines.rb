# frozen_string_literal: true

require "json"

module Bench
  # Mixed log lines for measuring: 40 % RFC 5424, 25 % RFC 3164, 20 % access log, 10 % JSON, 5 % key=value, with some
  # hundred kinds of messages, spread over days in order of time. The same seed gives the same lines.
  class Lines
    HOSTS = (1..40).map { |number| "#{%w[app db gate edge mail dns][number % 6]}-#{number}" }.freeze
    NOUNS = %w[
      connection session worker queue index shard replica backup snapshot voucher ticket berth link route neighbour
      policy lease zone cache token upload download printer spooler module device volume mount thread job schedule
      report ledger payment refund notice update package certificate listener handshake bucket segment journal
      checkpoint tariff sailing manifest
    ].freeze
    VERBS = [
      "opened", "closed", "accepted", "rotated", "expired", "renewed", "was refused", "finished", "started",
      "timed out", "reloaded", "flushed", "is degraded", "recovered", "moved", "was dropped"
    ].freeze
    TAILS = [
      "after %<n>d ms", "for client 10.%<a>d.%<b>d.%<c>d port %<n>d", "by user%<a>d in %<n>d.%<b>d s",
      "with status %<n>d, %<b>d left in the pool", "on /dev/sd%<a>d (%<n>d sectors, %<c>d pending)",
      "id=%<x>s attempt %<b>d", "while reading /var/lib/store/%<x>s.seg",
      "because the peer 192.168.%<b>d.%<c>d did not answer", "and %<n>d bytes were written to segment %<a>d", ""
    ].freeze
    MESSAGES = 600
    UNITS = %w[bookingd gatectl storaged routed spoold authd meterd planned].freeze
    AGENTS = [
      "Mozilla/5.0 (X11; Linux x86_64; rv:128.0) Gecko/20100101 Firefox/128.0",
      "Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36", "kiosk/2.1",
      "berthgate/4.0 (+https://tarnholm.example)"
    ].freeze

    # @param count [Integer]
    # @param ends [Time] when the last line is written
    def initialize(count, ends:, days: 1, seed: 7)
      @count = count
      @start = ends.to_f - (days * 86_400)
      @step = days * 86_400.0 / count
      @random = Random.new(seed)
      # Programs have so many messages and no more; what varies are their numbers and names.
      @catalogue =
        Array.new(MESSAGES) do
          Array.new(2) { "#{skewed(NOUNS)} #{skewed(NOUNS)} #{skewed(VERBS)} #{skewed(TAILS)}".rstrip }
        end
    end

    # @yieldparam line [String]
    def each
      @count.times do |index|
        @now = Time.at(@start + (index * @step)).utc
        yield case @random.rand(100)
              when 0...40 then rfc5424
              when 40...65 then rfc3164
              when 65...85 then access
              when 85...95 then json
              else pairs
              end
      end
    end

    private

    def pick(list) = list[@random.rand(list.size)]

    # Few words are common and many are rare, as in real logs.
    def skewed(list) = list[(list.size * (@random.rand**2)).floor]

    def filled(text)
      format(
        text, n: @random.rand(1..65_000), a: @random.rand(1..12), b: @random.rand(256), c: @random.rand(256), x: hex
      )
    end

    def message = filled(skewed(@catalogue).first)

    def long_message(separator) = skewed(@catalogue).map { |text| filled(text) }.join(separator)

    def hex = @random.rand(1 << 32).to_s(16).rjust(8, "0")

    def rfc5424
      "<#{[134, 134, 134, 133, 132, 131][@random.rand(6)]}>1 #{@now.strftime('%Y-%m-%dT%H:%M:%S.%6NZ')} " \
        "#{skewed(HOSTS)} #{skewed(UNITS)} #{@random.rand(300..4000)} - " \
        "[meta@32473 request.id=\"#{hex}\" lane=\"#{@random.rand(8)}\"] #{long_message(', ')}"
    end

    def rfc3164
      "#{@now.strftime('%b %e %H:%M:%S')} #{skewed(HOSTS)} #{skewed(UNITS)}[#{@random.rand(300..4000)}]: " \
        "#{long_message('; ')}"
    end

    def access
      client = "10.#{@random.rand(4)}.#{@random.rand(256)}.#{@random.rand(256)}"
      path = "/#{skewed(NOUNS)}s/#{@random.rand(100_000)}?view=#{pick(NOUNS)}"
      "#{client} - - [#{@now.strftime('%d/%b/%Y:%H:%M:%S +0000')}] \"GET #{path} HTTP/1.1\" " \
        "#{[200, 200, 200, 200, 304, 404, 503][@random.rand(7)]} #{@random.rand(60_000)} \"-\" \"#{skewed(AGENTS)}\""
    end

    def json
      JSON.generate(
        "time" => @now.strftime("%Y-%m-%dT%H:%M:%S.%6NZ"), "level" => pick(%w[info info info debug warn error]),
        "service" => skewed(UNITS), "msg" => message, "request" => { "id" => hex },
        "duration_ms" => (3000 * (@random.rand**4)).round
      )
    end

    def pairs
      "ts=#{@now.strftime('%Y-%m-%dT%H:%M:%S.%3NZ')} level=#{pick(%w[info info warn])} host=#{skewed(HOSTS)} msg=\"" \
        "#{message}\" took=#{@random.rand(900)}ms bytes=#{@random.rand(90_000)}"
    end
  end
end
