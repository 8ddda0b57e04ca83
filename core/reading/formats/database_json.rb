# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # What a database server writes as JSON, by the names that {Database} gives to its separated values (PostgreSQL
      # documentation, "Error Reporting and Logging", table of the keys of its format jsonlog).
      module DatabaseJson
        NAME = :database_json
        TITLE = "database server, JSON"
        WHY = "the line is a JSON object with error_severity"
        MARK = '"error_severity"'
        NAMES = {
          "user" => "user.name", "dbname" => "db.namespace", "pid" => "process.pid", "remote_host" => "source.address",
          "remote_port" => "source.port", "session_id" => "session.id", "ps" => "db.operation.name",
          "txid" => "db.transaction.id", "state_code" => "db.response.status_code", "detail" => "db.detail",
          "hint" => "db.hint", "context" => "db.context", "statement" => "db.query.text",
          "application_name" => "service.instance"
        }.freeze
        # Numbers that nobody counts with.
        NUMBERED = %w[pid txid].freeze
        LEFT_OUT = %w[timestamp error_severity message].freeze

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          return unless line.include?(MARK)

          object = Json.parse(line)
          level = object.is_a?(Hash) && object["error_severity"]
          code = Database::LEVELS[level] or return
          stamp = Stamp.read_value(object["timestamp"].to_s, context.clock) or return
          context.event(
            line,
            reader: NAME, stamp: stamp, message: object["message"].to_s.b, service: Database::SERVICE,
            severity: [code, "level word “#{level}”"], fields: fields(object)
          )
        end

        def fields(object)
          object.each_with_object({}) do |(key, value), fields|
            next if LEFT_OUT.include?(key) || value == "" || value.is_a?(Enumerable) || value.nil?

            value = value.to_s if NUMBERED.include?(key) || (value.is_a?(Float) && !value.finite?)
            fields[NAMES[key] || Text.display(key)] = value.is_a?(String) ? value.b : value
          end
        end
        private_class_method :fields
      end
    end
  end
end
