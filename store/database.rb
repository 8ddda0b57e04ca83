# frozen_string_literal: true

require "active_record"
require "fileutils"
require "sqlite3"

module Northdrift
  module Store
    # One data folder, one SQLite database in WAL mode. Any number of processes may read it; writers wait for each
    # other.
    module Database
      FILE = "northdrift.db"
      MIGRATIONS = File.join(ROOT, "store/migrations")
      PAGE_BYTES = 8192
      PRAGMAS = {
        journal_mode: "wal", synchronous: "normal", wal_autocheckpoint: 4000, cache_size: -32_768, temp_store: "memory",
        mmap_size: 0
      }.freeze
      # The most that SQLite maps.
      MAPPED_BYTES = 0x7fff0000
      BUSY_SECONDS = 60
      # A writer that waits for another looks again so often.
      LOOK_SECONDS = 0.002
      # Who writes much leaves others so long between two transactions.
      WAY_SECONDS = 0.005

      # Waiting for another writer. A transaction that reads before it writes is refused at once where another has
      # written meanwhile (SQLITE_BUSY_SNAPSHOT), so each begins as one that writes. SQLite's own waiting
      # (sqlite3_busy_timeout) looks ever more seldom, down to ten times a second, and so hardly ever in the moment
      # between two transactions of an import; and it keeps the other threads of its process, too.
      module Patience
        private

        def configure_connection
          wait_for_others
          super
          SightViews.match(@raw_connection) if Sight.current
        end

        # The first statement of a connection may have to wait already: for one that reads the log of writes anew, or
        # puts it away as the last one does.
        def wait_for_others
          @raw_connection.busy_handler do |count|
            now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
            @patience_ends = now + BUSY_SECONDS if count.zero?
            now < @patience_ends && sleep(LOOK_SECONDS)
          end
        end
      end
      ActiveSupport.on_load(:active_record_sqlite3adapter) do
        prepend Patience

        set_callback(:checkout, :after) { SightViews.match(raw_connection) }
      end

      # What is in logs is for those alone who keep them.
      FOLDER_MODE = 0o700
      FILE_MODE = 0o600
      OTHERS = 0o077

      Unusable = Class.new(Error)

      module_function

      # @param dir [String]
      # @return [Boolean] whether it is a data folder
      def there?(dir) = File.size?(File.join(dir, FILE)).to_i.positive?

      # @param dir [String] data folder; made when it does not exist
      # @param mapped [Boolean] whether the file is read through memory that the system shares: twice as fast for
      #   scattered rows, but all that is read counts as memory of the process
      # @raise [Unusable]
      def open(dir, mapped: false)
        make_folder(dir)
        path = File.join(dir, FILE)
        create(path) unless there?(dir)
        protect(path)
        ActiveRecord::Base.establish_connection(
          adapter: "sqlite3", database: path, default_transaction_mode: :immediate,
          pragmas: mapped ? PRAGMAS.merge(mmap_size: MAPPED_BYTES) : PRAGMAS, pool: 64
        )
        migrate
        Kinds.forget
        HourMemory.forget
        KnownPatterns.forget
        Sight.forget
        PageSettings.forget
        path
      rescue SystemCallError, SQLite3::Exception, ActiveRecord::StatementInvalid => error
        raise Unusable, "the data folder #{dir} cannot be used: #{error.message.lines.first.strip}"
      end

      # A transaction of many, after which others have their turn.
      # @return [Object] what the block returns
      def step(&block) = ActiveRecord::Base.transaction(&block).tap { give_way }

      # Lets others write who wait to.
      def give_way = sleep(WAY_SECONDS)

      # @return [SQLite3::Database] the connection of this thread, for statements that Active Record has no words for
      def raw = ActiveRecord::Base.connection.raw_connection

      # A statement that is closed afterwards, whatever happens.
      # @yieldparam statement [SQLite3::Statement]
      def prepare(sql)
        statement = (ActiveRecord::Base.connection.verify! && raw).prepare(sql)
        yield statement
      ensure
        statement&.close
      end

      # @return [Array<Array>] all rows
      def rows(sql, binds = []) = prepare(sql) { |statement| statement.bind_params(*binds) && statement.to_a }

      # @return [Integer] another one whenever another connection has written (SQLite, PRAGMA data_version)
      def version = value("PRAGMA data_version")

      # @return [Object] first column of the first row
      def value(sql, binds = []) = rows(sql, binds).dig(0, 0)

      # @return [String] of the open file
      def path = ActiveRecord::Base.connection_db_config.database

      # @return [Integer] that are in use; what is free in the file is not counted
      def bytes = (value("PRAGMA page_count") - value("PRAGMA freelist_count")) * PAGE_BYTES

      # @return [Integer] that are in use where there is nothing in it: a page for each table and index
      def bytes_of_none = value("SELECT count(*) FROM sqlite_master WHERE rootpage > 0") * PAGE_BYTES

      # Moves what was written into the database file itself, as far as no reader is in the way.
      def checkpoint = raw.execute("PRAGMA wal_checkpoint(TRUNCATE)")

      # @param dir [String] data folder
      # @return [Boolean] whether others on this computer can look into it
      def exposed?(dir) = File.stat(dir).mode.anybits?(OTHERS)

      def make_folder(dir)
        return if File.directory?(dir)

        FileUtils.mkdir_p(File.dirname(dir))
        FileUtils.mkdir(dir, mode: FOLDER_MODE)
      end

      # SQLite gives its further files the mode of the database.
      def protect(path)
        [path, "#{path}-wal", "#{path}-shm"].each do |file|
          File.chmod(FILE_MODE, file) if File.owned?(file) && File.stat(file).mode.anybits?(OTHERS)
        rescue Errno::ENOENT
          next # SQLite takes it away with the last connection
        end
      end
      private_class_method :protect

      # The page size can only be chosen while the file is empty.
      def create(path)
        SQLite3::Database.new(path) do |db|
          db.execute("PRAGMA page_size = #{PAGE_BYTES}")
          # So that room can be given back while others write.
          db.execute("PRAGMA auto_vacuum = INCREMENTAL")
          db.execute("PRAGMA journal_mode = WAL")
          db.execute("CREATE TABLE IF NOT EXISTS made (at)")
          db.execute("DROP TABLE made")
        end
      end
      private_class_method :create

      def migrate
        ActiveRecord::Migration.verbose = false
        context = ActiveRecord::MigrationContext.new(MIGRATIONS)
        File.open("#{ActiveRecord::Base.connection_db_config.database}.lock", File::CREAT | File::RDWR) do |lock|
          lock.flock(File::LOCK_EX)
          context.migrate if context.needs_migration?
        end
      end
      private_class_method :migrate
    end
  end
end
