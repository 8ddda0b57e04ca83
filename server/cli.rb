# frozen_string_literal: true

require "oj"
require "tty-progressbar"

module Northdrift
  module Server
    # The command line: the same classes as behind the web pages, in one process.
    class Cli < Commands
      # Exit statuses, as grep has them.
      NOTHING = 1
      MISTAKE = 2
      # Thor takes a lone "-" for a mistyped option.
      STANDARD_INPUT = "(standard input)"

      # Told by their names: what only reads files has no database loaded.
      STORAGE = Module.new do
        def self.===(error)
          %w[SQLite3::Exception ActiveRecord::StatementInvalid SystemCallError].intersect?(
            error.class.ancestors.map(&:name)
          )
        end
      end
      private_constant :STORAGE

      COMPARE =
        "compare with: before, day, week, month (that much earlier), FROM/TO in UTC, or a condition like 'host.name " \
        "= alder'"

      # What every command that asks a question takes.
      def self.window_options
        option :data, DATA
        option :server, type: :string, default: ENV.fetch("NORTHDRIFT_SERVER", nil),
                        desc: "ask this server, such as https://logs.example:4280, and not a data folder"
        option :token_file, type: :string, desc: "file with a token for the server; or NORTHDRIFT_TOKEN has it"
        option :from, type: :string, desc: "start: a time or words like 'yesterday 06:00'"
        option :to, type: :string, desc: "end, not included"
        option :since, type: :string, desc: "start, so long before now: 2h, 3 days; instead of --from"
        option :zone, type: :string, default: "UTC", desc: "time zone of --from, --to and of times shown"
      end
      private_class_method :window_options

      # Starts a command; what a person got wrong is told in a line on standard error.
      def self.run(argv)
        argv = argv.map { |word| word == "-" ? STANDARD_INPUT : word }
        # Names of files may be in any encoding.
        argv = argv.map { |word| Commands.text(word) || word.b }
        told(helped(argv))
      rescue Thor::Error, Error => error
        warn "northdrift: #{error.message}"
        exit MISTAKE
      rescue Errno::EPIPE
        exit! 0 # the reader of the pipe has seen enough
      rescue STORAGE => error
        exit_for(error)
      rescue Interrupt
        warn "northdrift: stopped; what was written stays"
        exit 130
      end

      # What is left of the output is written while a pipe that was closed can still be told from a mistake.
      def self.told(argv)
        start(argv, debug: true)
      ensure
        $stdout.flush
      end
      private_class_method :told

      def self.exit_for(error)
        what = error.message.lines.first.to_s.strip
        if what.include?("<STDOUT>")
          warn "northdrift: the output cannot be written: #{what.split(' @ ').first}"
          # What could not be written is in its buffer still, and would be tried again.
          exit! MISTAKE
        end
        warn "northdrift: the data folder or a file cannot be used: #{what}; what was committed before stays"
        exit MISTAKE
      end
      private_class_method :exit_for

      # Thor tells about a command when it is asked before its name; people ask behind it, too.
      def self.helped(argv)
        words = argv - %w[--help -h]
        return argv if words == argv || !all_commands.key?(words.first)
        return ["help", words.first] unless (sub = subcommand_classes[words.first])

        [words.first, "help", *words[1..].select { |word| sub.all_commands.key?(word) }.first(1)]
      end
      private_class_method :helped

      no_commands do
        # What holds for an option of several commands.
        def invoke_command(command, *arguments)
          limit = options[:limit]
          if limit && (limit.negative? || limit != limit.to_i)
            raise Thor::Error, "--limit takes a whole number, not #{limit}"
          end

          super
        end
      end

      desc "import PATH…", "read files, folders and archives into the data folder; - is standard input"
      option :data, DATA
      option :zone, type: :string, default: "UTC", desc: "time zone of stamps that have none"
      option :host, type: :string, desc: "machine of lines that name none"
      option :json, type: :boolean, default: false, desc: "print one JSON object at the end"
      def import(*paths)
        raise Thor::Error, "import needs at least one PATH" if paths.empty?

        paths = paths.map { |path| path == STANDARD_INPUT ? "-" : path }
        Store::Database.open(options[:data])
        importer =
          Intake::Importer.new(
            zone: options[:zone], machine: options[:host], place: ->(name) { Intake::Origin.of_path(name, paths) }
          )
        bar = bar(paths)
        summary = Store::Replacement.hold(options[:data]) do
          importer.import(Intake::Parts.new(paths)) do |bytes, name|
            bar&.update(name: File.basename(name)) || bar&.current = bytes
          end
        end
        bar&.finish
        options[:json] ? puts(Oj.dump(Present.summary(summary), mode: :strict)) : report(summary)
        exit NOTHING if summary.results.any? && summary.results.all?(&:problem)
      end

      desc "find 'FIND TEXT'", "print matching lines, oldest first"
      window_options
      option :limit, type: :numeric, desc: "at most so many lines"
      option :as, type: :string, default: "text", enum: [*Export::FORMS.keys, "count"], desc: "form of the output"
      option :columns, type: :string, desc: "further fields that are columns of csv and xlsx, with commas"
      def find(text = "")
        if Export::FORMS[options[:as]]&.binary && $stdout.tty?
          raise Thor::Error, "xlsx is no text; send it to a file: northdrift find … --as xlsx > lines.xlsx"
        end

        exit NOTHING if asked(text) { options[:as] == "count" ? count(text) : export(text) }.zero?
      end

      # What every command that surveys the lines of a question takes.
      def self.survey_options(limit, compared: true)
        window_options
        option :with, type: :string, desc: COMPARE if compared
        option :limit, type: :numeric, default: limit, desc: "at most so many rows"
        option :as, type: :string, default: "table", enum: %w[table json], desc: "form of the output"
      end
      private_class_method :survey_options

      desc "patterns 'FIND TEXT'", "condense matching lines to patterns, commonest or most surprising first"
      survey_options 50
      def patterns(text = "")
        print_table("patterns", Report::PATTERNS, text)
      end

      desc "fields 'FIND TEXT'", "show the fields of matching lines with their values, those first that stand out"
      survey_options 20
      option :values, type: :numeric, default: 5, desc: "at most so many values of each"
      def fields(text = "")
        answer = surveyed("fields", text, with: options[:with])
        rows = some(answer["fields"])
        return Report.objects(rows, $stdout) if json?

        Report.fields(rows, answer["total"], $stdout, values: options[:values].to_i)
      end

      desc "words 'FIND TEXT'", "show the words of matching lines, commonest or most surprising first"
      survey_options 50
      def words(text = "")
        print_table("words", Report::WORDS, text)
      end

      desc "measure 'CLAUSE' 'FIND TEXT'",
           "measure matching lines, for example 'p95(duration_ms) by host.name per hour'"
      window_options
      option :as, type: :string, default: "table", enum: %w[table json], desc: "form of the output"
      def measure(clause, text = "")
        measurement = asked(text) { with_bar { |bar| asker.measurement(clause, text, window, &bar) } }
        exit NOTHING if measurement["total"].zero?
        json? ? Report.objects([measurement], $stdout) : Report.measurement(measurement, $stdout)
      rescue Measure::Clause::Mistake => error
        show_mistake(clause, error)
        exit MISTAKE
      end

      desc "compare 'FIND TEXT'",
           "show what changed against another window, machine or service: patterns, then values of fields"
      survey_options 25
      def compare(text = "")
        with = options[:with] || "before"
        patterns, fields = %w[patterns fields].map { |kind| surveyed(kind, text, with: with, none: false)[kind] }
        patterns = patterns.reject { |row| row["change"] == "same" }
        values =
          fields
            .flat_map { |field| field["values"].map { |value| { "field" => field["name"], **value } } }
            .reject { |value| value["change"] == "same" }
            .sort_by
            .with_index { |value, index| [value["log10_p"], index] }
        exit NOTHING if patterns.empty? && values.empty?
        report_changes(some(patterns), some(values))
      end

      include ExplainCommands
      include CareCommands

      desc "read FILE…", "show how lines would be read, without keeping anything"
      option :zone, type: :string, default: "UTC", desc: "time zone of stamps that have none"
      option :host, type: :string, desc: "machine of lines that name none"
      option :limit, type: :numeric, default: 20, desc: "at most so many records of each file"
      def read(*files)
        raise Thor::Error, "read needs at least one FILE" if files.empty?

        problems =
          Intake::Parts
            .new(files)
            .to_enum(:each)
            .map do |part|
              Preview.print(part, $stdout, zone: options[:zone], machine: options[:host], limit: options[:limit].to_i)
            end
        exit NOTHING if problems.all?
      end

      desc "keep", "show or set how long lines are kept"
      option :data, DATA
      option :days, type: :numeric, desc: "lines are kept for so many days; 0: for ever"
      option :megabytes, type: :numeric, desc: "the database is at most so large; 0: as large as it becomes"
      option :archive, type: :boolean, desc: "whether lines are put away into files before they are forgotten"
      option :upload_megabytes, type: :numeric, desc: "an upload is at most so large"
      option :unpacked_megabytes, type: :numeric, desc: "what the archives in an upload unpack to is at most so large"
      def keep
        there
        keep_uploads
        keeping = Store::Keeping.current
        %i[days megabytes].each do |name|
          keeping[name] = options[name].to_i.then { |number| number.positive? ? number : nil } if options[name]
        end
        keeping.archive = options[:archive] unless options[:archive].nil?
        keeping.save
        puts "days: #{keeping.days || 'for ever'}"
        puts "megabytes: #{keeping.megabytes || 'as many as there are'}"
        puts "archive: #{keeping.archive ? 'yes' : 'no'}"
        puts "lines that are older: #{keeping.overdue(Store::Clock.now_us)}"
      end

      no_commands do
        def keep_uploads
          limits = Store::UploadLimits.current
          { megabytes: :upload_megabytes, unpacked_megabytes: :unpacked_megabytes }.each do |name, option|
            next unless options[option]
            raise Error, "--#{option.to_s.tr('_', '-')} must be 1 or more" unless options[option].positive?

            limits[name] = options[option].ceil
          end
          limits.save if options[:upload_megabytes] || options[:unpacked_megabytes]
          puts "megabytes of an upload: #{limits.megabytes}"
          puts "megabytes that it unpacks to: #{limits.unpacked_megabytes}"
        end
      end

      desc "collect",
           "take lines in without answering on the web: listeners, followed files and commands as they are set up"
      option :data, DATA
      def collect
        Commands.open_or_make(options[:data])
        Intake::Live::Inlets.set_up
        ActiveRecord::Base.connection_handler.clear_all_connections!
        Store::Replacement.hold(options[:data]) { Supervisor.new(Supervisor.intake(options[:data])).run }
      end

      desc "person COMMAND", "add people, say what they may do, and let them choose a new password"
      subcommand "person", PersonCli

      desc "token COMMAND", "make tokens that programs ask with, list and remove them"
      subcommand "token", TokenCli

      desc "team COMMAND", "groups of people, what they share and what they see"
      subcommand "team", TeamCli

      desc "rule COMMAND", "try, list, export and import alert rules, which are YAML files"
      subcommand "rule", RuleCli

      desc "audit COMMAND", "print who did what, and check that it is as it was written"
      subcommand "audit", AuditCli

      desc "feed COMMAND", "add, list, pause, resume and remove sources of lines"
      subcommand "feed", FeedCli

      desc "standin incident [NAME] | provider",
           "make the simulated machines of the demo have an incident now (without a name: which there are); or run a " \
           "provider that made-up people log in at"
      option :data, DATA
      option :port, type: :numeric, default: 4290, desc: "of the provider, on this computer"
      def standin(what, name = nil)
        return Standins::Provider.serve(options[:port].to_i) if what == "provider"
        raise Thor::Error, "there are: standin incident, standin provider" unless what == "incident"
        return Standins::Replay::INCIDENTS.each { |known, incident| puts "#{known}: #{incident.says}" } unless name

        Standins::Fleet.call_for(options[:data], name)
        puts "#{name} begins: #{Standins::Replay::INCIDENTS[name].says}"
      end

      desc "serve", "answer on the web, read what is uploaded, and take lines in"
      option :data, DATA
      option :port, type: :numeric, default: 4280, desc: "port"
      option :bind, type: :string, default: "127.0.0.1", desc: "address to listen on; 0.0.0.0 for all networks"
      option :name, type: :array, default: [], desc: "further names that it answers to, such as a proxy's"
      option :tls_cert, type: :string, desc: "certificate, PEM: the pages come by HTTPS"
      option :tls_key, type: :string, desc: "its key, PEM"
      option :proxy, type: :array, default: [], desc: "addresses or networks of proxies that say who asks"
      option :people, type: :boolean, desc: "whether everybody logs in; by default where there are people"
      def serve
        Commands.open_or_make(options[:data])
        Launcher.new(
          options[:data], port: options[:port].to_i, bind: options[:bind], names: options[:name],
                          people: options[:people], proxies: options[:proxy],
                          tls: options.values_at(:tls_cert, :tls_key).then { |given| given if given.any? }
        ).run
      end

      private

      def json? = options[:as] == "json"

      # @return [Asking::Here, Asking::There]
      def asker
        @asker ||= options[:server] ? Asking::There.new(options[:server], secret) : Asking::Here.new(options[:data])
      end

      def secret
        return ENV["NORTHDRIFT_TOKEN"]&.strip unless options[:token_file]

        File.read(options[:token_file]).strip
      rescue SystemCallError => error
        raise Error, "the token cannot be read: #{error.message}"
      end

      # Where a find text cannot be understood is shown below it.
      def asked(text)
        raise Error, "“#{Text.display(text)}” is no text in UTF-8" unless Text.utf8(text) == text

        yield
      rescue Find::Mistake => error
        show_mistake(text, error)
        exit MISTAKE
      end

      def surveyed(kind, text, with:, none: true)
        answer = asked(text) { with_bar { |bar| asker.survey(kind, text, window, with: with, &bar) } }
        exit NOTHING if none && answer[kind].empty?
        answer
      end

      def print_table(kind, columns, text)
        rows = some(surveyed(kind, text, with: options[:with])[kind])
        return Report.objects(rows, $stdout) if json?

        Report.table(columns, rows, $stdout, compared: !options[:with].nil?)
      end

      # Says on a terminal how far it is.
      def with_bar
        return yield(nil) unless $stderr.tty?

        bar = TTY::ProgressBar.new("looking at the lines :percent", output: $stderr, total: 100, clear: true)
        yield ->(done) { bar.current = (done * 100).floor }
      end

      def some(rows)
        most = options[:limit].to_i
        warn "#{rows.size - most} more are not shown (--limit)" if rows.size > most && !json?
        rows.first(most)
      end

      def report_changes(patterns, values)
        return Report.objects(patterns + values, $stdout) if json?

        Report.table(Report::PATTERNS, patterns, $stdout, compared: true)
        puts
        Report.table(Report::VALUES, values, $stdout, compared: true)
      end

      def count(text) = asker.total(text, window).tap { |total| puts total }

      def export(text)
        $stdout.binmode unless options[:as] == "text"
        asker.export(
          text, window, options[:as], $stdout,
          columns: options[:columns].to_s.split(","), limit: options[:limit]&.to_i, zone: options[:zone]
        )
      end

      # @return [Array(Integer, Integer)] microseconds UTC; nil for an open end
      def window
        raise Thor::Error, "say either --from or --since" if options[:from] && options[:since]

        from = options[:since] ? "#{options[:since]} ago" : options[:from]
        @window ||= [from, options[:to]].map { |words| words && asker.moment(words, zone: options[:zone]) }
      end

      def show_mistake(text, mistake)
        warn "northdrift: #{mistake.message}"
        warn "  #{text}"
        warn "  #{' ' * (mistake.column - 1)}#{'^' * mistake.length}"
      end

      def bar(paths)
        return if options[:json] || !$stderr.tty? || paths.include?("-")

        TTY::ProgressBar.new(":name  :current_byte  :byte_rate/s  :elapsed", output: $stderr, total: nil)
      end

      def report(summary)
        summary.results.each do |result|
          line = "#{result.name}: #{many(result.events, 'event')} from #{many(result.lines, 'line')}"
          line << " (#{result.readers.map { |name, n| "#{n} #{name}" }.join(', ')})" if result.readers.any?
          if result.known_lines.positive?
            line << "; #{many(result.known_lines, 'line')} #{result.known_lines == 1 ? 'was' : 'were'} here already"
          end
          line << "; #{doubts(result)}" if doubts(result)
          line << "; #{result.problem}" if result.problem
          puts Text.line(line)
        end
        puts format(
          "%s, %s, %s, %.1f MB in %.1f s", many(summary.files, "file"), many(summary.lines, "line"),
          many(summary.events, "event"), summary.bytes / 1e6, summary.seconds
        )
      end

      # @return [String, nil] what of the times is not the lines' own word
      def doubts(result)
        said = []
        if result.undated.positive?
          said << "no time in #{many(result.undated, 'event')}: dated by the line before or the file"
        end
        said << "dates with numbers alone were read #{result.date_order}" if result.date_order
        said.join("; ") if said.any?
      end

      def many(number, noun) = "#{number} #{noun}#{'s' unless number == 1}"
    end
  end
end
