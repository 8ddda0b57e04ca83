# frozen_string_literal: true

require "sqlite3"

module Northdrift
  module Store
    # A copy of a data folder in one file: the database as it was at one moment (SQLite, "Using the SQLite Online Backup
    # API"), and beside its tables the other files that belong to it. Others may write meanwhile.
    class Backup
      # What belongs to it besides the database. What is under way, and who tried passwords, does not.
      FILES = %w[settings.yml secrets.key collector.crt collector.key aside.ndjson].freeze
      FOLDERS = [Archive::FOLDER].freeze
      NAME = %r{\A(?:#{FOLDERS.join('|')}/)?[\w-][\w.-]*\z}
      # Its own tables.
      TABLES = { "backup" => "version, made_us, events", "backup_files" => "name, part, bytes" }.freeze
      PAGES = 4096
      PART_BYTES = 8 << 20
      # What may be needed beside the bytes that are copied.
      ROOM_BYTES = 64 << 20

      # @!attribute events [Integer] lines in it
      # @!attribute files [Integer] besides the database
      Report = Struct.new(:events, :files)

      class << self
        # @param path [String] of the file, which must not be there
        # @yieldparam done [Float] 0 to 1
        # @return [Report] once it is on disk and was checked
        # @raise [Error]
        def write(path, &)
          raise Error, "#{path} is there already" if File.exist?(path)

          new(path).write(&)
        end

        # @param path [String]
        # @param dir [String] data folder, which must have no data
        # @return [Report]
        # @raise [Error] when the file is no backup, or not as it was written
        def restore(path, dir)
          raise Error, "there is no file #{path}" unless File.file?(path)
          if Database.there?(dir)
            raise Error, "there is data in #{dir} already; restore into another folder, or with --replace"
          end

          new(path).restore(dir)
        end
      end

      def initialize(path)
        @path = path
        @part = "#{path}.part"
      end

      def write(&)
        check_room(File.dirname(File.expand_path(@path)), Database.bytes + files.sum { |name| File.size(full(name)) })
        File.open(@part, File::WRONLY | File::CREAT | File::EXCL, Database::FILE_MODE) { nil }
        into(@path) { |copy| fill(copy, &) }
      rescue Errno::EEXIST
        raise Error, "#{@part} is there: another backup is being written, or was stopped; remove it"
      rescue SQLite3::Exception, SystemCallError => error
        raise Error, "the backup was not written: #{error.message}"
      end

      def restore(dir)
        check_room(existing(dir), File.size(@path))
        Database.make_folder(dir)
        target = File.join(dir, Database::FILE)
        @part = "#{target}.part"
        report = into(target, from: @path) { |copy| unpack(copy, dir) }
        Database.open(dir)
        report
      rescue SQLite3::Exception, SystemCallError => error
        raise Error, "#{@path} cannot be restored: #{error.message}"
      end

      private

      # Writes a part, which becomes the file once it is whole. What fails, or is stopped, leaves nothing behind.
      # @param from [String, nil] path of what it begins as
      # @yieldparam part [SQLite3::Database]
      def into(path, from: nil, &block)
        FileUtils.cp(from, @part) if from
        File.chmod(Database::FILE_MODE, @part)
        report = with(@part, &block)
        keep(@part, path)
        report
      ensure
        FileUtils.rm_f(["", "-journal", "-wal", "-shm"].map { |ending| "#{@part}#{ending}" })
      end

      def with(path, **options)
        database = SQLite3::Database.new(path, options)
        yield database
      ensure
        database&.close
      end

      def fill(copy, &)
        snapshot(copy, &)
        events = check(copy)
        copy.transaction do
          TABLES.each { |name, columns| copy.execute("CREATE TABLE #{name} (#{columns})") }
          files.each { |name| add(copy, name) }
          copy.execute("INSERT INTO backup VALUES (?, ?, ?)", [VERSION, Clock.now_us, events])
        end
        # Without a log of its own beside it.
        copy.execute("PRAGMA journal_mode = DELETE")
        Report.new(events, files.size)
      end

      # All pages as they are at one moment: the transaction keeps that for as long as it takes.
      def snapshot(copy)
        with(Database.path, readonly: true) do |source|
          source.transaction(:deferred) do
            source.execute("SELECT count(*) FROM sqlite_master")
            backup = SQLite3::Backup.new(copy, "main", source, "main")
            while backup.step(PAGES) == SQLite3::Constants::ErrorCode::OK
              yield 1 - backup.remaining.fdiv([backup.pagecount, 1].max) if block_given?
            end
            backup.finish
          end
        end
      end

      def add(copy, name)
        File.open(full(name), "rb") do |file|
          part = 0
          while (bytes = file.read(PART_BYTES))
            copy.execute("INSERT INTO backup_files VALUES (?, ?, ?)", [name, part, SQLite3::Blob.new(bytes)])
            part += 1
          end
        end
      end

      # @return [Integer] lines
      # @raise [Error] when something is missing in it
      def check(copy)
        damage = copy.execute("PRAGMA quick_check(5)").flatten
        raise Error, "the database is damaged: #{damage.first}" unless damage == ["ok"]

        events = copy.get_first_value("SELECT count(*) FROM events")
        counted = copy.get_first_value("SELECT coalesce(sum(n), 0) FROM minute_counts")
        raise Error, "there are #{events} lines, and #{counted} are counted" unless events == counted

        events
      end

      def unpack(copy, dir)
        unless copy.get_first_value("SELECT count(*) FROM sqlite_master WHERE name = 'backup'") == 1
          raise Error, "#{@path} is no backup"
        end

        expected = copy.get_first_value("SELECT events FROM backup")
        events = check(copy)
        raise Error, "#{@path} has #{events} lines; it had #{expected}" unless events == expected

        names = copy.execute("SELECT DISTINCT name FROM backup_files").flatten
        names.each { |name| put(copy, name, dir) }
        copy.transaction do
          TABLES.each_key { |table| copy.execute("DROP TABLE #{table}") }
          # Who was logged in there is not logged in here.
          copy.execute("DELETE FROM sessions")
        end
        Report.new(events, names.size)
      end

      def put(copy, name, dir)
        raise Error, "#{@path} has a file of an odd name: #{Text.display(name.to_s)}" unless NAME.match?(name.to_s)

        path = File.join(dir, name)
        FileUtils.mkdir_p(File.dirname(path), mode: Database::FOLDER_MODE)
        File.open(path, File::WRONLY | File::CREAT | File::TRUNC | File::BINARY, Database::FILE_MODE) do |file|
          copy.execute("SELECT bytes FROM backup_files WHERE name = ? ORDER BY part", [name]) do |row|
            file.write(row[0])
          end
        end
      end

      def keep(part, path)
        File.open(part, &:fsync)
        File.rename(part, path)
      end

      # @return [Array<String>] names of those that are there
      def files
        @files ||= [*FILES, *FOLDERS.flat_map { |folder| Dir.glob("#{folder}/*", base: home) }]
          .select { |name| File.file?(full(name)) }
      end

      def home = File.dirname(Database.path)
      def full(name) = File.join(home, name)

      def check_room(dir, bytes)
        free = Disk.of(dir)&.free or return
        return if free > bytes + ROOM_BYTES

        raise Error, "it takes #{bytes >> 20} MB, and the disk of #{dir} has #{free >> 20} MB left"
      end

      def existing(dir)
        dir = File.dirname(dir) until File.directory?(dir)
        dir
      end
    end
  end
end
