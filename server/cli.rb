# frozen_string_literal: true

require "oj"
require "thor"
require "tty-progressbar"

module Northdrift
  module Server
    # The command line: the same classes as behind the web pages, in one process.
    class Cli < Thor
      check_unknown_options!

      # Exit statuses, as grep has them.
      NOTHING = 1
      MISTAKE = 2
      # Thor takes a lone "-" for a mistyped option.
      STANDARD_INPUT = "(standard input)"

      DATA = { type: :string, default: ENV.fetch("NORTHDRIFT_DATA", File.join(Dir.home, ".northdrift")), desc: "data folder" }.freeze

      COMPARE = "compare with: before, day, week, month (that much earlier), FROM/TO in UTC, or a condition like 'host.name = alder'"

      def self.exit_on_failure? = true

      # What every command that asks a question takes.
      def self.window_options
        option :data, DATA
        option :from, type: :string, desc: "start: a time or words like 'yesterday 06:00'"
        option :to, type: :string, desc: "end, not included"
        option :zone, type: :string, default: "UTC", desc: "time zone of --from, --to and of times shown"
      end
      private_class_method :window_options

      # Starts a command; what a person got wrong is told in a line on standard error.
      def self.run(argv)
        argv = argv.map { |word| word == "-" ? STANDARD_INPUT : word }
        argv = ["help", argv.first] if argv.size > 1 && argv.intersect?(%w[--help -h]) && all_commands.key?(argv.first)
        start(argv, debug: true)
      rescue Thor::Error, Error => error
        warn "northdrift: #{error.message}"
        exit MISTAKE
      rescue Errno::EPIPE
        exit! 0 # the reader of the pipe has seen enough
      rescue SQLite3::Exception, ActiveRecord::StatementInvalid, SystemCallError => error
        warn "northdrift: the data folder or a file cannot be used: #{error.message.lines.first.to_s.strip}; what was committed before stays"
        exit MISTAKE
      rescue Interrupt
        warn "northdrift: stopped; what was written stays"
        exit 130
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
        importer = Intake::Importer.new(zone: options[:zone], machine: options[:host])
        bar = bar(paths)
        summary = importer.import(Intake::Parts.new(paths)) { |bytes, name| bar&.update(name: File.basename(name)) || bar&.current = bytes }
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
        raise Thor::Error, "xlsx is no text; send it to a file: northdrift find … --as xlsx > lines.xlsx" if Export::FORMS[options[:as]]&.binary && $stdout.tty?

        question = ask(text)
        exit NOTHING if (options[:as] == "count" ? count(question) : export(question)).zero?
      end

      desc "patterns 'FIND TEXT'", "condense matching lines to patterns, commonest or most surprising first"
      window_options
      option :with, type: :string, desc: COMPARE
      option :limit, type: :numeric, default: 50, desc: "at most so many patterns"
      option :as, type: :string, default: "table", enum: %w[table json], desc: "form of the output"
      def patterns(text = "")
        question = ask(text)
        table = Store::PatternTable.new(question, against: options[:with] && question.compared_with(options[:with])).count
        exit NOTHING if table.rows.empty?
        PatternReport.write(table, $stdout, as: options[:as], limit: options[:limit].to_i)
      end

      desc "read FILE…", "show how lines would be read, without keeping anything"
      option :zone, type: :string, default: "UTC", desc: "time zone of stamps that have none"
      option :host, type: :string, desc: "machine of lines that name none"
      option :limit, type: :numeric, default: 20, desc: "at most so many records of each file"
      def read(*files)
        raise Thor::Error, "read needs at least one FILE" if files.empty?

        problems = 0
        Intake::Parts.new(files).each do |part|
          problem = Preview.print(part, $stdout, zone: options[:zone], machine: options[:host], limit: options[:limit].to_i)
          problems += 1 if problem
        end
        exit NOTHING if problems == files.size
      end

      desc "serve", "answer on the web, and read what is uploaded"
      option :data, DATA
      option :port, type: :numeric, default: 4280, desc: "port"
      option :bind, type: :string, default: "127.0.0.1", desc: "address to listen on"
      def serve
        Launcher.new(options[:data], port: options[:port].to_i, bind: options[:bind]).run
      end

      private

      def count(question) = question.total.tap { |total| puts total }

      def export(question)
        $stdout.binmode unless options[:as] == "text"
        Export.write(question, options[:as], $stdout, more: options[:columns].to_s.split(","), limit: options[:limit]&.to_i, zone: options[:zone])
      end

      # @return [Store::Question]
      def ask(text)
        Store::Database.open(options[:data])
        from_us, to_us = bounds
        Store::Question.new(find: text, from_us: from_us, to_us: to_us)
      rescue Find::Mistake => error
        show_mistake(text, error)
        exit MISTAKE
      end

      def bounds
        words = Windows::Words.new(zone: options[:zone], now_us: (Time.now.to_r * 1_000_000).to_i, boots: Store::Boots.method(:latest))
        [options[:from], options[:to]].map { |text| text && words.moment(text) }
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
          line = "#{result.name}: #{result.events} events from #{result.lines} lines"
          line << " (#{result.readers.map { |name, n| "#{n} #{name}" }.join(', ')})" if result.readers.any?
          line << "; #{result.known_lines} lines were here already" if result.known_lines.positive?
          line << "; #{result.problem}" if result.problem
          puts Text.display(line)
        end
        puts format("%d files, %d lines, %d events, %.1f MB in %.1f s", summary.files, summary.lines, summary.events, summary.bytes / 1e6, summary.seconds)
      end
    end
  end
end
