# frozen_string_literal: true

require "etc"
require "socket"

module Northdrift
  module Server
    # Looks at a data folder and at what it needs of the computer.
    class Doctor
      # @!attribute check [String] what was looked at
      # @!attribute level [String] ok, note or wrong
      # @!attribute says [String]
      # @!attribute helps [String, nil] what to do
      Finding = Struct.new(:check, :level, :says, :helps)

      # In the order in which they are told.
      CHECKS = {
        "folder" => :folder, "settings" => :settings, "disk" => :disk, "clock" => :time, "versions" => :versions,
        "database" => :database, "counts" => :counts, "audit trail" => :audit, "archives" => :archives,
        "secrets" => :secrets, "people" => :people, "sources" => :sources
      }.freeze
      LITTLE_ROOM = 0.05
      # Lines may be so far ahead: clocks are apart.
      AHEAD_US = 600_000_000
      DAY_US = 86_400_000_000
      CONNECT_SECONDS = 1

      # @param dir [String] data folder
      # @param thorough [Boolean] whether all of the database is read
      def initialize(dir, thorough: false)
        @dir = dir
        @thorough = thorough
      end

      # @return [Array<Finding>]
      def findings
        Store::Database.open(@dir)
        CHECKS.flat_map do |check, method|
          found = send(method)
          (found.first.is_a?(Array) ? found : [found]).map { |one| Finding.new(check, *one) }
        rescue StandardError => error
          [Finding.new(check, "wrong", error.message.lines.first.to_s.strip)]
        end
      rescue Store::Database::Unusable => error
        [Finding.new("database", "wrong", error.message, "restore a backup into another folder")]
      end

      private

      def folder
        owner = File.stat(@dir).uid
        if Store::Database.exposed?(@dir)
          ["wrong", "others on this computer can look into #{@dir}", "chmod 700 #{@dir}"]
        elsif owner != Process.euid
          ["note", "#{@dir} belongs to #{Etc.getpwuid(owner).name}, and you are another"]
        else
          ["ok", "#{@dir}, for its owner alone"]
        end
      end

      def settings
        settings = Store::MachineSettings.current
        settings.proxies.each { |text| Access::Proxies.network(text) }
        secure = TlsFiles.of(settings.tls_cert, settings.tls_key)
        days = secure&.days_left
        return ["note", "the pages' certificate runs out in #{days} days", "renew it"] if days && days < 21

        ["ok", File.exist?(Store::MachineSettings.path) ? Store::MachineSettings.path : "none, so all are as shipped"]
      rescue Error => error
        ["wrong", error.message, "change #{Store::MachineSettings.path}"]
      end

      def disk
        disk = Store::Disk.of(@dir) or return ["note", "how much room there is cannot be told"]
        said = "#{disk.free >> 20} MB free of #{disk.size >> 20} MB, #{Store::Database.bytes >> 20} MB in use here"
        return ["ok", said] if disk.free > disk.size * LITTLE_ROOM

        ["wrong", said, "say how long lines are kept: northdrift keep --days N, or --megabytes N"]
      end

      def time
        now = Store::Clock.now_us
        ahead = Store::Checkup.later_than(now + AHEAD_US)
        said = Time.at(0, now, :microsecond, in: "UTC").strftime("%Y-%m-%d %H:%M:%S UTC")
        return ["ok", said] if ahead.zero?

        ["note", "#{said}; #{ahead} lines are from later than that", "see whether this clock or theirs is wrong"]
      end

      def versions
        kept, newest = Store::Checkup.forms
        said = "Northdrift #{VERSION}, Ruby #{RUBY_VERSION}, SQLite #{SQLite3::SQLITE_VERSION}, data of form #{kept}"
        return ["ok", said] if kept == newest

        ["wrong", "#{said}; this program knows form #{newest}", "use the program that wrote it, or a newer one"]
      end

      def database
        damage = Store::Checkup.damage(thorough: @thorough)
        return ["ok", @thorough ? "whole, and its index too" : "whole"] if damage.empty?

        ["wrong", damage.join("; "), "restore a backup into another folder"]
      rescue SQLite3::Exception => error
        ["wrong", error.message, "restore a backup into another folder"]
      end

      def counts
        events, wrong = Store::Checkup.counts
        return ["ok", "#{events} lines, and as many are counted"] if wrong.empty?

        ["wrong", "there are #{events} lines, and others in #{wrong.join(', ')}",
         "restore a backup into another folder"]
      end

      def audit
        entries, broken = Store::AuditTrail.verify
        return ["ok", "#{entries} entries, as they were written"] unless broken

        ["wrong", "entry #{broken} is not as it was written, or one before it is missing",
         "find out who has access to #{@dir}"]
      end

      def archives
        all = Store::Archive.where(state: "away").to_a
        lost = all.reject { |one| File.exist?(one.path) && File.size(one.path) >= one.bytes }
        return ["ok", "#{all.size} days, all of them there"] if lost.empty?

        ["wrong", "#{lost.map(&:file).join(', ')} cannot be brought back", "look for them in a backup"]
      end

      # Another key opens nothing.
      def secrets
        closed = Store::Relay.present.select { |one| one.sealed? && one.given["token"].to_s.empty? }.map(&:name)
        closed += Store::Person.where.not(factor_sealed: nil)
          .reject { |one| Store::Secret.open(one.factor_sealed) }.map(&:name)
        return ["ok", "those that are kept can be opened"] if closed.empty?

        ["wrong", "those of #{closed.join(', ')} cannot be opened: secrets.key is another one", "set them anew"]
      end

      def people
        return ["ok", "none: it answers on this computer alone"] unless Store::Person.exists?

        able = Store::Person.administrators.where.not(password_digest: nil).count
        return ["wrong", "no administrator can log in", "northdrift person password NAME"] if able.zero?

        ["ok", "#{Store::Person.enabled.count}, #{able} of them administrators"]
      end

      def sources
        feeds = Store::Feed.present.where(paused: false).select { |feed| feed.given["port"] }
        return ["ok", "none that listens"] if feeds.empty?

        feeds.map do |feed|
          at = "#{feed.given['address']}:#{feed.given['port']}"
          if listening?(feed) then ["ok", "#{feed.name} listens on #{at}"]
          else ["note", "#{feed.name} does not listen on #{at}", "start it: northdrift serve, or northdrift collect"]
          end
        end
      end

      def listening?(feed)
        address, port = feed.given.values_at("address", "port")
        return taken?(address, port) if feed.kind == "udp"

        address = Addrinfo.ip(address).ip_unpack.first
        Socket.tcp(address, port, connect_timeout: CONNECT_SECONDS).close
        true
      rescue SystemCallError, SocketError
        false
      end

      # Whether somebody has it: nothing answers by itself.
      def taken?(address, port)
        UDPSocket.new(Addrinfo.ip(address).afamily).tap { |socket| socket.bind(address, port) }.close
        false
      rescue Errno::EADDRINUSE
        true
      end
    end
  end
end
