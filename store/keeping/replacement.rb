# frozen_string_literal: true

module Northdrift
  module Store
    # Puts what a backup has in the place of what a data folder has, which is kept beside it. Nobody may have the
    # database open meanwhile: who works on a folder for long holds it, and who serves it makes way when a replacement
    # is ready.
    module Replacement
      READY = "restored-"
      BEFORE = "before-"
      PART = "restoring"
      LOCK = "in-use.lock"
      # Beside the database: what was written lately, and who writes.
      LOGS = %w[-wal -shm].freeze
      LOOK_SECONDS = 0.1

      InUse = Class.new(Error)

      module_function

      # For as long as the block runs, and the processes that it starts, nothing is replaced.
      # @param dir [String] data folder
      # @raise [InUse] while something is being replaced
      def hold(dir)
        Database.make_folder(dir)
        File.open(File.join(dir, LOCK), File::CREAT | File::RDWR, Database::FILE_MODE) do |lock|
          lock.flock(File::LOCK_SH | File::LOCK_NB) or raise InUse, "a backup is being restored into #{dir}"
          yield
        end
      end

      # Unpacks a backup beside what is there, and checks it.
      # @param path [String] of the backup
      # @return [Backup::Report]
      # @raise [Error]
      def prepare(path, dir)
        raise Error, "another backup is ready to be restored into #{dir}" if ready(dir)

        part = File.join(dir, PART)
        FileUtils.rm_rf(part)
        report = Backup.restore(path, part)
        Database.checkpoint
        Backup::FOLDERS.each { |folder| FileUtils.mkdir_p(File.join(part, folder), mode: Database::FOLDER_MODE) }
        ActiveRecord::Base.connection_handler.clear_all_connections!
        LOGS.each { |log| FileUtils.rm_f(File.join(part, "#{Database::FILE}#{log}")) }
        File.rename(part, File.join(dir, "#{READY}#{Time.now.utc.strftime('%Y%m%dT%H%M%SZ')}"))
        report
      ensure
        FileUtils.rm_rf(part) if part
      end

      # @return [String, nil] the folder of what is ready to take its place
      def ready(dir) = Dir.glob("#{READY}*", base: dir).min&.then { |name| File.join(dir, name) }

      # Takes it, once nobody holds the folder. What was stopped midway goes on where it was.
      # @param seconds [Numeric] that it waits for those who hold it
      # @return [String, nil] the folder of what was there before; nil where nothing was ready
      # @raise [InUse]
      def carry_out(dir, seconds: 0)
        File.open(File.join(dir, LOCK), File::CREAT | File::RDWR, Database::FILE_MODE) do |lock|
          wait(lock, seconds) or raise InUse, "something else works on #{dir}: stop it, and restore again"
          from = ready(dir) or break
          before = from.sub(READY, BEFORE)
          FileUtils.mkdir_p(before, mode: Database::FOLDER_MODE)
          # The database last: until it is there, the folder is not taken for what it will be.
          names = Dir.children(from).sort_by { |name| name == Database::FILE ? 1 : 0 }
          names.each { |name| exchange(name, from, dir, before) }
          Dir.rmdir(from)
          before
        end
      end

      # What could not take its place is taken away.
      def give_up(dir) = ready(dir)&.then { |from| FileUtils.rm_rf(from) }

      def wait(lock, seconds)
        ends = now + seconds
        until (held = lock.flock(File::LOCK_EX | File::LOCK_NB)) || now > ends
          sleep LOOK_SECONDS
        end
        held
      end

      def exchange(name, from, dir, before)
        old = name == Database::FILE ? ["", *LOGS].map { |ending| "#{name}#{ending}" } : [name]
        old.each do |one|
          path = File.join(dir, one)
          File.rename(path, File.join(before, one)) if File.exist?(path)
        end
        File.rename(File.join(from, name), File.join(dir, name))
      end

      def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
      private_class_method :wait, :exchange, :now
    end
  end
end
