# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # One JSON object a line (RFC 8259; the habit is known as NDJSON). Nested objects are flattened with dots, lists
      # get a number. Time, level, message, logger, service and machine go by their common names.
      module JsonLines
        NAME = :json
        TITLE = "JSON lines"
        WHY = "the whole line is one JSON object"

        DEPTH = 12
        VALUES = 200
        LEVELS_KEPT = 1000
        # Beside one of these, a field "status" is that of HTTP.
        REQUESTS = %w[request request_uri method uri].freeze
        STATUSES = (100..599)
        TIMELY = /time|date|stamp|zeit|datum/i
        STAMP_SIZES = (19..40)

        # Log4j manual, JSON Layout: a time in two numbers
        INSTANT = %w[epochSecond nanoOfSecond].freeze

        @levels = {}

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          object = Json.parse(line)
          return unless object.is_a?(Hash)

          flat = {}
          flatten(object, nil, flat, 0)
          build(line, flat, context, NAME)
        end

        # What an object tells about its record, and its other values by their common names.
        # @!attribute time [Object, nil]
        # @!attribute severity [Array(Integer, String), nil]
        Told = Struct.new(:time, :severity, :message, :machine, :service, :fields)

        # @param object [Hash] parsed JSON
        # @return [Told]
        def told(object) = tell({}.tap { |flat| flatten(object, nil, flat, 0) })

        # @param object [Hash] parsed JSON that is part of a record
        # @return [Hash{String=>Object}] its values by their common names
        def values(object)
          {}.tap { |flat| flatten(object, nil, flat, 0) }.transform_keys { |name| FieldNames.common(name) }
        end

        # @param flat [Hash{String=>Object}] values by written name; shared with the key=value reader
        # @return [Event]
        def build(line, flat, context, reader)
          told = tell(flat)
          stamp = told.time && Stamp.read_value(told.time, context.clock)
          told.fields["time"] = told.time if told.time && !stamp
          stamp ||= stamp_elsewhere(told.fields, context.clock)
          context.event(
            line,
            reader: reader, stamp: stamp, message: told.message.empty? ? instead(line, told.fields) : told.message,
            machine: told.machine, service: told.service, severity: told.severity, fields: told.fields
          )
        end

        # A record without a message is shown by what was asked for, and else as it stands.
        def instead(line, fields)
          fields["request"].is_a?(String) && !fields["request"].empty? ? fields["request"] : line
        end
        private_class_method :instead

        # Some programs name the time as nobody else does: a whole date and time in a field whose name says so.
        def stamp_elsewhere(fields, clock)
          fields.each do |name, value|
            next unless value.is_a?(String) && STAMP_SIZES.cover?(value.bytesize) && TIMELY.match?(name)

            stamp = Stamp.read_value(value, clock)
            return stamp if stamp
          end
          nil
        end
        private_class_method :stamp_elsewhere

        def tell(flat)
          roles = {}
          fields = {}
          flat.each do |key, value|
            role = FieldNames.role(key)
            role = value.is_a?(String) && usable?(:level, value) ? :level : nil if role == :letter
            if role && usable?(role, value) && (!roles.key?(role) || worded?(role, roles[role], value))
              fields["level.number"] = roles[role] if roles.key?(role)
              roles[role] = value
              next unless role == :logger
            end
            name = role == :logger ? "logger.name" : FieldNames.common(key)
            fields[name] = value unless fields.key?(name)
          end
          Told.new(
            roles[:time], severity(roles[:level], fields), roles[:message].to_s, roles[:machine], roles[:service],
            fields
          )
        end
        private_class_method :tell

        def flatten(value, name, flat, depth)
          return if flat.size >= VALUES

          case value
          when Hash
            return flat[name || "value"] = Json.dump(value) if depth > DEPTH
            return flat[name] = seconds(value) if name && value.keys == INSTANT

            value.each { |key, inner| flatten(inner, name ? "#{name}.#{key}" : key, flat, depth + 1) }
          when Array
            return flat[name] = Json.dump(value) if value.size > 16 || depth > DEPTH

            value.each_with_index { |inner, index| flatten(inner, "#{name}.#{index}", flat, depth + 1) }
          when nil then nil
          when Float then flat[name] = value.finite? ? value : value.to_s # RFC 8259, section 6: it may be too large
          when String then flat[name] = value.frozen? ? value.b : value.force_encoding(Encoding::BINARY)
          else flat[name] = value
          end
        end
        private_class_method :flatten

        def seconds(instant) = format("%d.%09d", *instant.values.map(&:to_i)).b
        private_class_method :seconds

        # A name can promise what its value does not keep ("event" may be a number, "host" an object).
        def usable?(role, value)
          case role
          when :time then value.is_a?(String) || value.is_a?(Numeric)
          when :level then value.is_a?(Integer) || (value.is_a?(String) && !Severity.from_value(value).nil?)
          else value.is_a?(String) && !value.empty?
          end
        end
        private_class_method :usable?

        # A word tells a level better than a number, whose meaning each system has for itself.
        def worded?(role, before, value) = role == :level && before.is_a?(Integer) && value.is_a?(String)
        private_class_method :worded?

        def severity(level, fields)
          case level
          when String then @levels[level] || word(level)
          when Integer
            code = Severity.from_number(level)
            fields["level"] = level unless code
            code && [code, "level number #{level}"]
          when nil
            status =
              fields["http.response.status_code"] || (REQUESTS.any? { |name| fields.key?(name) } && fields["status"])
            if status.is_a?(Integer) && STATUSES.cover?(status)
              [Severity.from_http_status(status), "HTTP status #{status}"]
            end
          end
        end
        private_class_method :severity

        # There are few such words: what each comes to is made once.
        def word(level)
          @levels.clear if @levels.size > LEVELS_KEPT
          @levels[level.dup.freeze] = [Severity.from_value(level), "level word “#{Text.display(level)}”"].freeze
        end
        private_class_method :word
      end
    end
  end
end
