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

          desc "restore FILE", "make a data folder of a backup, or put it in the place of one, while it is in use too"
          option :data, Commands::DATA
          option :replace, type: :boolean, default: false, desc: "what is there is kept beside it"
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
        dir = options[:data]
        over = options[:replace] && Store::Database.there?(dir)
        report = over ? replace(file, dir) : Store::Backup.restore(file, dir)
        Store::Changes.note("restored", file, nil, { "events" => report.events })
        puts "#{report.events} lines and #{report.files} further files, checked, in #{Text.display(dir)}"
      end

      # @return [Numeric] seconds that who serves a folder has to make way
      def patience = 60

      # Who serves the folder sees that something is ready and makes way; where nobody does, it is done at once.
      def replace(file, dir)
        report = Store::Replacement.prepare(file, dir)
        ready = Store::Replacement.ready(dir)
        ends = Process.clock_gettime(Process::CLOCK_MONOTONIC) + patience
        begin
          Store::Replacement.carry_out(dir)
        rescue Store::Replacement::InUse
          sleep 0.2
          retry if File.exist?(ready) && Process.clock_gettime(Process::CLOCK_MONOTONIC) < ends
        end
        kept = ready.sub(Store::Replacement::READY, Store::Replacement::BEFORE)
        replaced(ready, kept, dir)
        report
      end

      def replaced(ready, kept, dir)
        if File.exist?(ready) || !File.exist?(kept)
          Store::Replacement.give_up(dir)
          raise Error, "nothing was changed: something else works on #{dir}; stop it, and restore again"
        end

        Store::Database.open(dir)
        puts "what was there before is in #{Text.display(kept)}"
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
