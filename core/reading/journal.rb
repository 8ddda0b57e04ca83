# frozen_string_literal: true

module Northdrift
  module Reading
    # Entries of the systemd journal, whatever encoding they come in: fields and their meaning as in
    # systemd.journal-fields(7).
    module Journal
      # Names of the OpenTelemetry semantic conventions for what they have a name for.
      NAMES = {
        "_PID" => "process.pid", "_COMM" => "process.executable.name", "_EXE" => "process.executable.path",
        "_CMDLINE" => "process.command_line", "_UID" => "user.id", "_SYSTEMD_UNIT" => "systemd.unit",
        "UNIT" => "systemd.unit.about", "MESSAGE_ID" => "systemd.message_id", "CODE_FILE" => "code.file.path",
        "CODE_LINE" => "code.line.number", "CODE_FUNC" => "code.function.name", "_BOOT_ID" => "host.boot.id",
        "_MACHINE_ID" => "host.id", "ERRNO" => "error.number", "TID" => "thread.id"
      }.freeze
      # What the event has a place for, and addresses within the journal.
      LEFT_OUT = %w[
        MESSAGE PRIORITY _HOSTNAME SYSLOG_IDENTIFIER SYSLOG_FACILITY SYSLOG_PID SYSLOG_TIMESTAMP SYSLOG_RAW __CURSOR
        __REALTIME_TIMESTAMP __MONOTONIC_TIMESTAMP __SEQNUM __SEQNUM_ID _SOURCE_REALTIME_TIMESTAMP
        _SOURCE_MONOTONIC_TIMESTAMP
      ].freeze
      # When it was said, and else when it was written down.
      TIMES = %w[_SOURCE_REALTIME_TIMESTAMP __REALTIME_TIMESTAMP].freeze
      SPEAKERS = %w[SYSLOG_IDENTIFIER _COMM _SYSTEMD_UNIT].freeze
      PREFIX = "journal."
      # So many values of a field that comes several times are taken.
      SEVERAL = 100

      module_function

      # @param entry [Hash{String=>String,Array<String>}] values by field; several where the field comes several times
      # @param raw [String] bytes of the record
      # @param reader [Symbol]
      # @return [Event]
      def event(entry, raw, context, reader:)
        fields = fields(entry)
        entry = entry.transform_values { |value| value.is_a?(Array) ? value.first : value }
        us = TIMES.filter_map { |name| entry[name]&.to_i }.first
        stamp = us && Clock::PLAUSIBLE.cover?(us) ? Stamp::Found.new(us, 0, Stamp::NOTHING) : nil
        context.event(
          raw,
          reader: reader, stamp: stamp, message: entry["MESSAGE"].to_s.b, machine: entry["_HOSTNAME"],
          service: entry.values_at(*SPEAKERS).compact.first, severity: severity(entry["PRIORITY"]), fields: fields,
          constants: constants(entry["SYSLOG_FACILITY"])
        )
      end

      # @param entry [Hash{String=>String,Array<String>}] gains a value
      def add(entry, name, value)
        case before = entry[name]
        when nil then entry[name] = value
        when Array then before << value if before.size < SEVERAL
        else entry[name] = [before, value]
        end
      end

      # Further values of a field get a number, as those of lists do.
      def fields(entry)
        entry.each_with_object({}) do |(name, values), fields|
          next if LEFT_OUT.include?(name)

          name = NAMES[name] || "#{PREFIX}#{Text.display(name.sub(/\A_+/, '')).downcase}"
          Array(values).each_with_index { |value, index| fields[index.zero? ? name : "#{name}.#{index}"] ||= value.b }
        end
      end
      private_class_method :fields

      def severity(priority)
        code = Integer(priority.to_s, exception: false)
        [code, "PRIORITY=#{code}"] if code&.between?(0, 7)
      end
      private_class_method :severity

      def constants(facility)
        name = facility && Syslog::FACILITIES[Integer(facility, exception: false) || 99]
        name ? { "syslog.facility" => name } : Context::NO_FIELDS
      end
      private_class_method :constants
    end
  end
end
