# frozen_string_literal: true

require "net/http"
require "oj"
require "rack/utils"

module Northdrift
  module Server
    module Asking
      # What commands ask, asked of a server as its pages ask it, with a token in the place of a person.
      class There
        SURVEYS = { "patterns" => "/api/patterns", "fields" => "/api/fields", "words" => "/api/words" }.freeze
        # What an answer says of itself.
        ABOUT = %w[from_us to_us against_from_us against_to_us milliseconds].freeze
        SCHEMES = %w[http https].freeze
        MISTAKES = {
          "/problems/mistake-in-find-text" => Find::Mistake, "/problems/mistake-in-measure" => Measure::Clause::Mistake
        }.freeze
        # A long answer says something every half second.
        SILENCE_SECONDS = 120

        # @param address [String] such as https://logs.example:4280
        # @param token [String, nil]
        def initialize(address, token)
          @address = URI(address)
          unless SCHEMES.include?(@address.scheme) && @address.host
            raise Error, "“#{Text.line(address)}” is no address like https://logs.example:4280"
          end

          @token = token
        rescue URI::InvalidURIError
          raise Error, "“#{Text.line(address)}” is no address like https://logs.example:4280"
        end

        def moment(words, zone:) = get("/api/windows/moment", words: words, zone: zone)["at_us"]

        def survey(kind, find, window, with: nil, &block)
          last(SURVEYS.fetch(kind), { with: with, **question(find, window) }, &block)
        end

        def measurement(clause, find, window, &)
          last("/api/measurements", { measure: clause, **question(find, window) }, &).except(*ABOUT)
        end

        def total(find, window) = get("/api/histogram", bins: 1, **question(find, window))["total"]

        # @raise [Error] where a form is cut to a number of lines that cannot be cut
        def export(find, window, form, out, columns: [], limit: nil, zone: "UTC")
          made = post("/api/exports", form: form, columns: columns.join(","), zone: zone, limit: limit,
                                      **question(find, window))
          stream("/api/exports/#{made['id']}/file") { |piece| out << piece }
          get("/api/exports/#{made['id']}")["written"]
        end

        def logbook(window, kinds:, machines:, least:, limit:)
          get(
            "/api/logbook",
            kind: kinds.join(","), machine: machines&.join(","), least: least, limit: limit, **times(window)
          )["happenings"]
        end

        def restarts(window, machine:, limit:)
          get("/api/restarts", machine: machine, **times(window))["restarts"].last(limit)
        end

        def first(find, window) = get("/api/lines", limit: 1, **question(find, window))["lines"].first

        def causes(line) = get("/api/causes", line: line["id"])

        private

        # What noise rules hide is asked for too, as it is of a data folder.
        def question(find, window) = { find: find, noise: "shown", **times(window) }
        def times(window) = { from: window[0], to: window[1] }

        def get(path, **query) = Oj.load(sent(Net::HTTP::Get, path, query).body, mode: :strict)
        def post(path, **query) = Oj.load(sent(Net::HTTP::Post, path, query).body, mode: :strict)

        # The last of the answers so far.
        def last(path, query)
          rest = +""
          stream(path, query) do |piece|
            *whole, rest = (rest << piece).split("\n", -1)
            whole.each do |line|
              answer = Oj.load(line, mode: :strict)
              raise Error, answer["problem"]["detail"] if answer["problem"]

              yield answer["done"] if block_given?
              @answer = answer["answer"]
            end
          end
          @answer or raise Error, "the answer of #{@address} was cut short"
        end

        def stream(path, query = {}, &block)
          sent(Net::HTTP::Get, path, query) { |response| response.read_body(&block) }
        end

        # @yieldparam response [Net::HTTPResponse] whose body was not read yet
        def sent(verb, path, query)
          request = verb.new("#{@address.path.chomp('/')}#{path}?#{Rack::Utils.build_query(query.compact)}")
          request["authorization"] = "Bearer #{@token}" if @token
          connection.request(request) do |response|
            refuse(response) unless response.is_a?(Net::HTTPSuccess)
            yield response if block_given?
          end
        rescue SystemCallError, SocketError, IOError, Timeout::Error, OpenSSL::SSL::SSLError,
               Net::ProtocolError => error
          raise Error, "#{@address} does not answer: #{error.message.lines.first.to_s.strip}"
        end

        def connection
          Net::HTTP.start(
            @address.hostname, @address.port,
            use_ssl: @address.scheme == "https", open_timeout: 10, read_timeout: SILENCE_SECONDS
          )
        end

        def refuse(response)
          problem = problem(response)
          mistake = MISTAKES[problem["type"]]
          if mistake
            raise mistake.new(problem["detail"], column: problem["column"], length: problem["length"],
                                                 suggestion: problem["suggestion"])
          end
          case response.code
          when "401" then raise Error, "#{@address} wants a token: in NORTHDRIFT_TOKEN, or in a file by --token-file"
          when "403" then raise Error, "#{@address} refuses: #{problem['detail']}"
          else raise Error, problem["detail"] || "#{@address} answered #{response.code} #{response.message}"
          end
        end

        def problem(response)
          answer = Oj.load(response.read_body.to_s, mode: :strict)
          answer.is_a?(Hash) ? answer : {}
        rescue Oj::ParseError, EncodingError
          {}
        end
      end
    end
  end
end
