# frozen_string_literal: true

require "net/http"
require "oj"
require "zlib"

module Northdrift
  module Server
    module Relay
      module Outlets
        # OTLP/HTTP with JSON (OpenTelemetry protocol 1.x): a batch is delivered when it was answered with 200. What is
        # to be tried again and what is not is as its section "OTLP/HTTP Response" says.
        class Http
          SECONDS = 20
          AGAIN = %w[408 429 502 503 504].freeze
          # The address, the token or what stands between is wrong, and not the lines.
          ELSEWHERE = %w[401 403 404 405 407 415].freeze

          # The other side wants us to wait.
          class Busy < Error
            # @return [Integer, nil]
            attr_reader :seconds

            def initialize(message, seconds)
              super(message)
              @seconds = seconds
            end
          end

          # @param given [Hash{String=>Object}]
          def initialize(given)
            @uri = URI(given["url"])
            @token = given["token"].to_s
            @certificate = given["certificate"].to_s
            @sources = {}
          end

          # @param events [Array<Store::StoredEvent>]
          # @return [Integer] lines that the other side would not have
          # @raise [SystemCallError, IOError, Busy] when it has to be tried again
          def deliver(events)
            refused = 0
            bodies(events).each { |body, lines| refused += taken(client.request(request(body)), lines) }
            refused
          rescue StandardError
            close
            raise
          end

          # What was answered is there.
          def settle = nil

          def close
            @client&.finish
          rescue IOError
            nil
          ensure
            @client = nil
          end

          private

          def client
            @client ||= Net::HTTP.new(@uri.hostname, @uri.port, nil).tap do |http|
              http.ipaddr = Reach.address(@uri.hostname)
              http.use_ssl = @uri.is_a?(URI::HTTPS)
              http.cert_store = Trust.store(@certificate) if http.use_ssl?
              http.open_timeout = http.read_timeout = http.write_timeout = SECONDS
              http.start
            end
          end

          def bodies(events)
            events.each_slice(Export::Otlp::BATCH).map do |some|
              out = []
              form = Export::Otlp.new(Export::Sheet.new(out, [], nil, sources(some)))
              some.each { |event| form << event }
              form.finish
              [out.join, some.size]
            end
          end

          def sources(events)
            missing = events.map(&:source_id).uniq - @sources.keys
            @sources.merge!(Store::Source.where(id: missing).pluck(:id, :name).to_h) if missing.any?
            @sources
          end

          def request(body)
            Net::HTTP::Post
              .new(@uri.request_uri, "content-type" => "application/json", "content-encoding" => "gzip")
              .tap do |request|
                request["authorization"] = "Bearer #{@token}" unless @token.empty?
                request.body = Zlib.gzip(body)
              end
          end

          def taken(answer, lines)
            case answer.code
            when /\A2/
              rejected(answer)
            when *AGAIN
              raise Busy.new(
                "the other side answered #{answer.code}", Integer(answer["retry-after"].to_s, exception: false)
              )
            when /\A3/, *ELSEWHERE
              raise Busy.new(
                "the other side answered #{answer.code} #{answer.message}: see the address and the token", nil
              )
            else
              lines
            end
          end

          def rejected(answer)
            Oj.load(answer.body.to_s, mode: :strict)&.dig("partialSuccess", "rejectedLogRecords").to_i
          rescue Oj::ParseError, TypeError, NoMethodError
            0
          end
        end
      end
    end
  end
end
