# frozen_string_literal: true

module Northdrift
  module Server
    # Commands that look after a data folder.
    module CareCommands
      # @param commands [Class] a Thor
      def self.included(commands)
        commands.class_eval do
          desc "backup FILE", "copy the data folder into one file, while it is in use, and check the copy"
          option :data, Commands::DATA
          def backup(file) = write_backup(file)

          desc "restore FILE", "make a data folder of a backup; it must have no data yet"
          option :data, Commands::DATA
          def restore(file) = restore_backup(file)

          desc "doctor", "look at the data folder and what it needs, and say what is wrong and what helps"
          option :data, Commands::DATA
          option :thorough, type: :boolean, default: false, desc: "also read all of the database and its index"
          option :as, type: :string, default: "table", enum: %w[table json], desc: "form of the output"
          def doctor = print_findings
        end
      end

      private

      def write_backup(file)
        there
        bar = TTY::ProgressBar.new("copying :percent", output: $stderr, total: 100, clear: true) if $stderr.tty?
        report = Store::Backup.write(file) { |done| bar&.current = (done * 100).floor }
        bar&.finish
        Store::Changes.note("backup", file, nil, { "events" => report.events })
        puts "#{report.events} lines and #{report.files} further files, checked. Keep it as safe as the data folder: " \
             "it has the key of all secrets in it."
      end

      def restore_backup(file)
        report = Store::Backup.restore(file, options[:data])
        Store::Changes.note("restored", file, nil, { "events" => report.events })
        puts "#{report.events} lines and #{report.files} further files, checked, in #{Text.display(options[:data])}"
      end

      def print_findings
        Commands.check_there(options[:data])
        findings = Doctor.new(options[:data], thorough: options[:thorough]).findings
        findings.each do |one|
          puts options[:as] == "json" ? Oj.dump(one.to_h.transform_keys(&:to_s), mode: :strict) : finding(one)
        end
        exit Cli::NOTHING if findings.any? { |one| one.level == "wrong" }
      end

      def finding(one)
        ["#{one.level.ljust(6)} #{one.check}: #{Text.line(one.says)}", one.helps && "       → #{Text.line(one.helps)}"]
          .compact.join("\n")
      end
    end
  end
end
