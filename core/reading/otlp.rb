# frozen_string_literal: true

module Northdrift
  module Reading
    # Log records in the JSON encoding of the OpenTelemetry protocol (OTLP specification 1.x, "JSON Protobuf Encoding").
    # Senders' names are taken in both spellings that protobuf's JSON mapping allows for parsers.
    module Otlp
      # The object is not what the protocol has.
      Malformed = Class.new(Error)
      # A request may be so large with its resource beside each record.
      LARGEST = 1 << 27
      # The same for one that is a line: so many times its size, and what a small one may have.
      GROWTH = 64
      LARGEST_LINE = 1 << 18

      module_function

      # @param object [Hash] an ExportLogsServiceRequest
      # @yieldparam resource [Hash]
      # @yieldparam scope [Hash]
      # @yieldparam record [Hash] LogRecord
      # @raise [Malformed]
      def each(object)
        list(object, "resourceLogs", "resource_logs").each do |group|
          list(group, "scopeLogs", "scope_logs").each do |scoped|
            list(scoped, "logRecords", "log_records").each do |record|
              yield told(group["resource"]), told(scoped["scope"]), hash(record)
            end
          end
        end
      end

      # @param text [String] JSON of an ExportLogsServiceRequest, bytes
      # @return [Boolean] whether it has more than one record
      def several?(text)
        object = Json.parse(text)
        object.is_a?(Hash) && to_enum(:each, object).first(2).size > 1
      rescue Malformed
        false
      end

      # @param text [String] JSON of an ExportLogsServiceRequest, bytes
      # @return [Array<Array(Integer, String)>, nil] where in the text each record ends, the last one with all that
      #   follows; and the record as JSON of its own. Nil where that would be far more than the text.
      def parts(text)
        objects = split(Json.parse(text), most: (text.bytesize * GROWTH) + LARGEST_LINE)
        stops = RecordEnds.of(text)
        stops = Array.new(objects.size, 0) unless stops.size == objects.size
        stops[-1] = text.bytesize
        stops.zip(objects)
      rescue Malformed
        nil
      end

      # @param object [Hash] an ExportLogsServiceRequest
      # @param most [Integer] bytes that all of them may have
      # @return [Array<String>] the same as JSON of one record each, bytes
      # @raise [Malformed]
      def split(object, most: LARGEST)
        lines = []
        size = 0
        each(object) do |resource, scope, record|
          size += lines.last&.bytesize || 0
          raise Malformed, "what is said of all records is too large to be said of each" if size > most

          lines << Json.dump(
            {
              "resourceLogs" => [
                { "resource" => resource, "scopeLogs" => [{ "scope" => scope, "logRecords" => [record] }] }
              ]
            }
          )
        end
        lines
      end

      # @param any [Hash, nil] an AnyValue
      # @return [Object, nil] as JSON has it
      def value(any)
        return unless any.is_a?(Hash)

        kind, value = any.first
        case kind.to_s.delete("_").downcase
        when "intvalue"
          value.to_i
        when "doublevalue"
          value.is_a?(Numeric) && value.finite? ? value : value.to_s
        when "arrayvalue"
          Array(value.is_a?(Hash) ? value["values"] : nil).map { |one| value(one) }
        when "kvlistvalue"
          Array(value.is_a?(Hash) ? value["values"] : nil).to_h { |pair| [pair["key"].to_s, value(pair["value"])] }
        else
          value
        end
      end

      def list(object, *names)
        found = hash(object).values_at(*names).compact.first || []
        found.is_a?(Array) ? found : raise(Malformed, "#{names.first} must be a list")
      end
      private_class_method :list

      # What is said of all records may be left out.
      def told(object) = object.is_a?(Hash) ? object : {}
      private_class_method :told

      def hash(object) = object.is_a?(Hash) ? object : raise(Malformed, "an object was expected")
      private_class_method :hash
    end
  end
end
