# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # What a package manager writes of a run of it: history.log of apt(8), lines from Start-Date to End-Date.
      module PackageHistory
        NAME = :package_history
        TITLE = "package manager's history"
        WHY = "lines from Start-Date to End-Date"
        START = "Start-Date: "
        FINISH = "End-Date: "
        LINE = /^([A-Z][A-Za-z-]*): (.*)$/
        OPERATIONS = %w[Install Reinstall Upgrade Downgrade Remove Purge].freeze
        PACKAGE = /([^\s,:()]+)(?::[\w-]+)? \([^)]*\)/
        REQUESTED = /\A(\S+) \((\d+)\)\z/
        SERVICE = "packages"
        CHANGED = [Severity::NOTICE, "packages were changed"].freeze
        FAILED = [Severity::ERROR, "the run says that it failed"].freeze
        FORM = /\A(\d{4}-\d\d-\d\d)  ?(\d\d:\d\d:\d\d)/

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          return unless line.start_with?(START)

          day, time = FORM.match(line.byteslice(START.bytesize, 40))&.captures
          stamp = day && Stamp.read("#{day} #{time}", context.clock) or return
          told = line.scan(LINE).to_h
          context.event(
            line,
            reader: NAME, stamp: Stamp::Found.new(stamp.us, 0, stamp.inferred), message: message(told),
            service: SERVICE, severity: told.key?("Error") ? FAILED : CHANGED, fields: fields(told)
          )
        end

        # @return [Boolean] whether the run goes on with the next line
        def unfinished?(text) = !text.include?("\n")

        # @param line [String] a further one
        # @return [Boolean] whether it is the last; one that was interrupted ends with an empty one
        def finishes?(line) = line.empty? || line.start_with?(FINISH)

        def fields(told)
          user, id = REQUESTED.match(told["Requested-By"].to_s)&.captures
          packages =
            OPERATIONS.to_h { |name| [name, told[name].to_s.scan(PACKAGE).flatten] }.reject { |_, names| names.empty? }
          {
            "process.command_line" => told["Commandline"], "user.name" => user, "user.id" => id,
            "error.message" => told["Error"], "package.count" => packages.values.sum(&:size),
            **packages.to_h { |name, names| ["package.#{name.downcase}", names.join(" ")] }
          }.compact
        end
        private_class_method :fields

        def message(told)
          done = OPERATIONS.filter_map { |name| told[name] && "#{name}: #{told[name]}" }.join("; ")
          [told["Commandline"], done, told["Error"]].compact
            .reject(&:empty?)
            .join(" — ".b)
            .then { |text| text.empty? ? "run of the package manager" : text }
            .b
        end
        private_class_method :message
      end
    end
  end
end
