# frozen_string_literal: true

require "google/rpc/status_pb"
require "opentelemetry/proto/collector/logs/v1/logs_service_pb"

module Northdrift
  module Intake
    module Live
      # A request and its answer of OTLP/HTTP (OTLP specification 1.x, section "OTLP/HTTP"), in protobuf or JSON.
      module OtlpRequest
        LOGS = Opentelemetry::Proto::Collector::Logs::V1
        PROTOBUF = "application/x-protobuf"
        JSON = "application/json"
        IDS = %w[traceId spanId].freeze

        # The body is not what its type says.
        Malformed = Class.new(Error)

        module_function

        # @param body [String]
        # @param type [String] media type
        # @return [Array<String>] JSON of one record each, as {Reading::Formats::OtlpJson} reads it
        # @raise [Malformed]
        def lines(body, type)
          object = type == PROTOBUF ? from_protobuf(body) : Reading::Json.parse(body)
          raise Malformed, "the body is no JSON object" unless object.is_a?(Hash)

          Reading::Otlp.split(object)
        rescue Google::Protobuf::ParseError, Reading::Otlp::Malformed => error
          raise Malformed, "the body is no ExportLogsServiceRequest: #{error.message}"
        end

        # @param rejected [Integer] records that were not taken ("Partial Success")
        # @return [String] body of the answer
        def success(type, rejected: 0, why: "")
          partial =
            if rejected.positive?
              LOGS::ExportLogsPartialSuccess.new(rejected_log_records: rejected, error_message: why)
            end
          response = LOGS::ExportLogsServiceResponse.new(partial_success: partial)
          if type == PROTOBUF
            LOGS::ExportLogsServiceResponse.encode(response)
          else
            LOGS::ExportLogsServiceResponse.encode_json(response)
          end
        end

        # @return [String] body of an answer that says what went wrong (section "Failures")
        def failure(type, message)
          status = Google::Rpc::Status.new(message: message)
          type == PROTOBUF ? Google::Rpc::Status.encode(status) : Google::Rpc::Status.encode_json(status)
        end

        # Protobuf's own JSON mapping has ids in base64; OTLP has them in hexadecimal.
        def from_protobuf(body)
          json =
            LOGS::ExportLogsServiceRequest.encode_json(
              LOGS::ExportLogsServiceRequest.decode(body), format_enums_as_integers: true
            )
          Reading::Json.parse(json).tap do |object|
            Reading::Otlp.each(object) do |_, _, record|
              IDS.each { |name| record[name] = record[name].unpack1("m").unpack1("H*") if record[name] }
            end
          end
        end
        private_class_method :from_protobuf
      end
    end
  end
end
