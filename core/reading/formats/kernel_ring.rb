# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # The ring buffer of the Linux kernel: as dmesg(1) prints it, with the seconds since the machine started in
      # brackets, and as /dev/kmsg gives it (kernel documentation, ABI/testing/dev-kmsg). Neither has a time of day.
      module KernelRing
        NAME = :kernel_ring
        TITLE = "kernel ring buffer"
        WHY = "the seconds since the start in brackets, or the header of /dev/kmsg"
        PRINTED = /\A(?:<(\d{1,3})>|[a-z0-7]+ *:([a-z]+) *: )?\[ {0,5}(\d{1,9}\.\d{6})\](?:\[ *([TC]\d+)\])? /
        RECORD = /\A(\d{1,4}),(\d+),(\d+),[-c+][^;]*;/
        # dmesg(1), option --time-format iso
        DATED = /\A(?=\d{4}-\d\d-\d\dT[\d:]{8},\d{6}[+-])/
        SERVICE = "kernel"

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          return dated(line, context) if DATED.match?(line)

          if (match = PRINTED.match(line))
            seconds = match[3].to_f
            number = match[1]
            level = match[2]
          elsif (match = RECORD.match(line))
            seconds = match[3].to_i / 1e6
            number = match[1]
          else
            return
          end
          fields = { "kernel.uptime_s" => seconds }
          fields["log.record.id"] = match[2] if match.regexp == RECORD
          context.event(
            line,
            reader: NAME, stamp: nil, message: line.byteslice(match.end(0), line.bytesize), body_at: 0,
            service: SERVICE, severity: severity(number, level), fields: fields
          )
        end

        def severity(number, level)
          return Syslog.priority(number)&.severity if number

          code = level && Severity.from_word(level)
          code && [code, "level word “#{level}”"]
        end
        private_class_method :severity

        def dated(line, context)
          stamp = Stamp.read(line, context.clock, %i[iso]) or return
          context.event(
            line,
            reader: NAME, stamp: stamp, message: line.byteslice(stamp.size + 1, line.bytesize).to_s,
            body_at: stamp.size + 1, service: SERVICE
          )
        end
        private_class_method :dated
      end
    end
  end
end
