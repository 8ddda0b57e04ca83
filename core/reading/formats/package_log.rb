# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # What a package manager writes of its operations, one a line: dpkg.log (dpkg(1), option --log).
      module PackageLog
        NAME = :package_log
        TITLE = "package manager"
        WHY = "a time, and an operation on a package"
        FORMS = %i[iso bsd].freeze
        # "upgrade libc6:amd64 2.36-8 2.36-9", "status installed libc6:amd64 2.36-9", "startup archives unpack"
        OPERATION =
          /\G (install|upgrade|configure|trigproc|disappear|remove|purge) (\S+) (<none>|\S*\d\S*) (<none>|\S*\d\S*)\z/
        STATUS = /\G status ([a-z-]+) (\S+) (<none>|\S*\d\S*)\z/
        OTHER = /\G (startup|conffile) \S.*\z/
        SERVICE = "packages"
        NOTHING = "<none>"
        CHANGED = [Severity::NOTICE, "a package was changed"].freeze
        STEP = [Severity::INFORMATIONAL, "a step of the package manager"].freeze

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          stamp = Stamp.read(line, context.clock, FORMS) or return
          at = stamp.size
          fields, severity = told(line, at) || return
          context.event(
            line,
            reader: NAME, stamp: stamp, message: line.byteslice(at + 1, line.bytesize), body_at: at + 1,
            service: SERVICE, severity: severity, fields: fields.reject { |_, value| value.nil? || value == NOTHING }
          )
        end

        def told(line, at)
          if (match = OPERATION.match(line, at))
            name, architecture = match[2].split(":", 2)
            [
              {
                "event.name" => match[1], "package.name" => name, "package.architecture" => architecture,
                "package.version.before" => match[3], "package.version" => match[4]
              }, CHANGED
            ]
          elsif (match = STATUS.match(line, at))
            name, architecture = match[2].split(":", 2)
            [
              {
                "event.name" => "status", "package.status" => match[1], "package.name" => name,
                "package.architecture" => architecture, "package.version" => match[3]
              }, STEP
            ]
          elsif (match = OTHER.match(line, at)) then [{ "event.name" => match[1] }, STEP]
          end
        end
        private_class_method :told
      end
    end
  end
end
