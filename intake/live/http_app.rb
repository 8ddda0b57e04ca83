# frozen_string_literal: true

require "oj"
require "rack/utils"

module Northdrift
  module Intake
    module Live
      # Rack application that takes lines: OTLP at /v1/logs, and NDJSON or plain text at /lines. Answered with success,
      # they are in the database.
      class HttpApp
        # Bytes of a body as it is sent, and unpacked.
        MOST_SENT = 16 << 20
        MOST_UNPACKED = 64 << 20
        LONGEST_RECORD = 1 << 20
        # So long a client waits for its answer, and is told to wait before it tries again (seconds).
        ANSWER = 25
        AGAIN = 2

        # Something is wrong with a request.
        class Refused < Error
          attr_reader :status, :headers

          def initialize(status, message, headers = {})
            super(message)
            @status = status
            @headers = headers
          end
        end

        VISIBLE = /\S/n
        TYPES = {
          "/v1/logs" => [OtlpRequest::PROTOBUF, OtlpRequest::JSON],
          "/lines" => %w[application/x-ndjson application/json text/plain]
        }.freeze

        # @param inlet [#call] gives the inlet of a token's digest
        def initialize(inlet)
          @inlet = inlet
          @guesses = Guesses.new
        end

        # @param env [Hash] Rack environment
        # @return [Array] Rack response
        def call(env)
          path = env["PATH_INFO"]
          type = env["CONTENT_TYPE"].to_s.split(";").first.to_s.strip.downcase
          types = TYPES[path] or raise Refused.new(404, "lines are taken at #{TYPES.keys.join(' and ')}")
          raise Refused.new(405, "lines are sent with POST", "allow" => "POST") unless env["REQUEST_METHOD"] == "POST"

          inlet = inlet(env)
          type = types.last if type.empty? || (type == "application/x-www-form-urlencoded" && path == "/lines")
          raise Refused.new(415, "the content type must be #{types.join(', ')}") unless types.include?(type)

          path == "/lines" ? lines(env, inlet, type) : otlp(env, inlet, type)
        rescue Refused => error
          inlet&.count(:refused)
          refuse(error, path, type)
        rescue Funnel::Full => error
          refuse(Refused.new(429, error.message, "retry-after" => AGAIN.to_s), path, type)
        rescue StandardError => error
          warn error.full_message(highlight: false)
          refuse(Refused.new(500, "something went wrong inside; the log of the collector says what"), path, type)
        end

        private

        # Bearer tokens, RFC 6750, section 2.1.
        def inlet(env)
          digest = env["HTTP_AUTHORIZATION"].to_s[/\ABearer +(\S+)\z/i, 1]&.then { |token| Inlets::Http.digest(token) }
          address = env["REMOTE_ADDR"]
          unless @guesses.allowed?(address, digest)
            raise Refused.new(429, "too many wrong tokens from #{address}", "retry-after" => Guesses::PERIOD_SECONDS.to_s)
          end

          inlet = digest && @inlet.call(digest) or raise no_token(address)
          @guesses.right(address, digest)
          inlet
        end

        def no_token(address)
          @guesses.wrong(address)
          Refused.new(
            401, "a token of this collector is needed: Authorization: Bearer …", "www-authenticate" => "Bearer"
          )
        end

        def body(env)
          raise Refused.new(413, "a body may have #{MOST_SENT} bytes") if env["CONTENT_LENGTH"].to_i > MOST_SENT

          sent = env["rack.input"].read(MOST_SENT + 1).to_s
          raise Refused.new(413, "a body may have #{MOST_SENT} bytes") if sent.bytesize > MOST_SENT

          case env["HTTP_CONTENT_ENCODING"].to_s.downcase
          when "", "identity" then sent
          when "gzip" then unpacked(sent)
          else raise Refused.new(415, "the content encoding must be gzip or none", "accept-encoding" => "gzip")
          end
        end

        # A body may have several members (RFC 1952, section 2.2).
        def unpacked(sent)
          gzip = Parts::Gunzip.new(StringIO.new(sent), Parts::Budget.new(2 * MOST_UNPACKED))
          text = "".b
          while (piece = gzip.read(Parts::Gunzip::CHUNK))
            text << piece
            raise Refused.new(413, "a body may have #{MOST_UNPACKED} bytes unpacked") if text.bytesize > MOST_UNPACKED
          end
          text
        rescue Parts::Damaged => error
          raise Refused.new(400, "the body cannot be unpacked as gzip: #{error.message}")
        end

        def lines(env, inlet, type)
          text = body(env)
          raise Refused.new(400, "the body is empty") unless VISIBLE.match?(text)

          # A sender that had no answer sends the same again under the same name.
          delivery = env["HTTP_IDEMPOTENCY_KEY"]&.then { |key| "#{inlet.feed.id} #{key[0, 200]}" }
          messages = (objects(text) if type == OtlpRequest::JSON) || text.split("\n").grep(VISIBLE)
          longest = type == "text/plain" ? 0 : messages.map(&:bytesize).max
          if longest > LONGEST_RECORD
            raise Refused.new(413, "a line may have #{LONGEST_RECORD} bytes; one has #{longest}")
          end

          await(env, inlet, delivery) do |stream, ticket|
            if type == "text/plain"
              inlet.funnel.text(
                stream, text.end_with?("\n") ? text : "#{text}\n", delivery: delivery, ticket: ticket, wait: false
              )
            else
              inlet.funnel.messages(stream, messages, delivery: delivery, ticket: ticket, wait: false)
            end
          end
          [200, { "content-type" => OtlpRequest::JSON }, [Oj.dump({ "lines" => messages.size }, mode: :strict)]]
        end

        # @return [Array<String>, nil] the objects of a JSON text: of a list, or one in several lines; nil where each
        #   line is a text of its own
        def objects(text)
          cutter = Reading::JsonText.of(text[/\A\s*\S.*/n].to_s) or return
          found = []
          cutter.push(text) { |piece| found << piece.object }
          found if found.any? && cutter.fits? && !cutter.open?
        end

        def otlp(env, inlet, type)
          text = body(env)
          records = OtlpRequest.lines(text, type)
          kept = records.reject { |record| record.bytesize > LONGEST_RECORD }
          # The protocol has no name for a delivery; records have times to the nanosecond, so that their bytes are one.
          delivery = "#{inlet.feed.id} #{OpenSSL::Digest::SHA256.hexdigest(text)}"
          unless kept.empty?
            await(env, inlet, delivery) do |stream, ticket|
              inlet.funnel.messages(stream, kept, delivery: delivery, ticket: ticket, wait: false)
            end
          end
          rejected = records.size - kept.size
          [
            200, { "content-type" => type },
            [
              OtlpRequest.success(
                type, rejected: rejected, why: rejected.zero? ? "" : "a record may have #{LONGEST_RECORD} bytes"
              )
            ]
          ]
        rescue OtlpRequest::Malformed => error
          raise Refused.new(400, error.message)
        end

        def await(env, inlet, delivery, &)
          outcome = inlet.take(env["REMOTE_ADDR"], delivery, seconds: ANSWER, &)
          return if outcome == :written

          raise Refused.new(
            503, outcome || "the lines are not written yet; send them again", "retry-after" => AGAIN.to_s
          )
        end

        # Problem details (RFC 9457), or as OTLP has failures.
        def refuse(error, path, type)
          if path == "/v1/logs" && TYPES[path].include?(type)
            return error.status, { "content-type" => type, **error.headers }, [OtlpRequest.failure(type, error.message)]
          end

          [
            error.status, { "content-type" => "application/problem+json", **error.headers },
            [
              Oj.dump(
                {
                  "type" => "about:blank", "title" => Rack::Utils::HTTP_STATUS_CODES[error.status],
                  "status" => error.status, "detail" => error.message
                }, mode: :strict
              )
            ]
          ]
        end
      end
    end
  end
end
