# frozen_string_literal: true

module Northdrift
  module Starters
    # Searches for those who do not know the words: by topic, with blanks to fill in. The words are those that programs
    # and operating systems use for these things: common practice, with no source.
    module Catalogue
      # @!attribute topic [String]
      # @!attribute name [String]
      # @!attribute find [String] find text; {machine}, {user}, {service} and {word} are blanks
      # @!attribute formats [String] for which lines it works
      # @!attribute view [String] lines, patterns, fields, words or measure
      # @!attribute measure [String, nil]
      Starter = Struct.new(:topic, :name, :find, :formats, :view, :measure) do
        # @return [Array<String>] names of the blanks
        def blanks = find.scan(BLANK).flatten.uniq

        # @return [String] a find text for whatever the blanks may be filled with
        def probe = find.gsub(CONDITION) { "has #{Regexp.last_match(1)}" }.gsub(/"?#{BLANK}"?(?:\s+and\b)?/o, "").strip
      end

      BLANK = /\{(machine|user|service|word)\}/
      CONDITION = /([\w.]+) = #{BLANK}/

      ANY = "all formats"
      SYSLOG = "syslog and other system logs"
      WINDOWS = "Windows events"
      ACCESS = "web server access logs"

      def self.starters(topic, *rows) = rows.map { |name, find, formats, view, measure| Starter.new(topic, name, find, formats, view || "lines", measure) }
      private_class_method :starters

      ALL = [
        *starters("crashes",
                  ["A program was killed because memory ran out", '"out of memory" or oom* or "killed process"', SYSLOG],
                  ["A kernel stopped or stumbled", '"kernel panic" or "call trace" or oops or "soft lockup" or "hung task"', SYSLOG],
                  ["A program fell over", 'segfault or "core dumped" or "signal 11" or "signal 6" or "fatal error"', ANY],
                  ["A program ended with an uncaught exception", '"uncaught exception" or "unhandled exception" or traceback or panicked', ANY],
                  ["Windows says that it went down unexpectedly", "event.id in (41, 6008, 1001)", WINDOWS],
                  ["Everything severe, condensed", "severity >= critical", ANY, "patterns"]),
        *starters("restarts",
                  ["Machines that started", '"linux version" or "system boot" or "booting" or "kernel starting" or "operating system started"', ANY],
                  ["Machines that were shut down in order", '"shutting down" or "reboot" or "system is rebooting" or "power off" or poweroff', ANY],
                  ["Who asked for a restart", "(reboot or shutdown or restart) and (user or by or actor or requested)", ANY],
                  ["What {machine} said before it went", "host.name = {machine} and severity >= warning", ANY]),
        *starters("services",
                  ["Services that failed", '"failed with result" or "entered failed state" or "terminated unexpectedly" or "start request repeated"', ANY],
                  ["Services that were started or stopped", 'started or stopped or "service entered"', SYSLOG],
                  ["{service} and its troubles", "service.name = {service} and severity >= warning", ANY],
                  ["What timed out", '"timed out" or timeout* or "deadline exceeded"', ANY, "patterns"],
                  ["Who refused a connection", '"connection refused" or "connection reset" or "no route to host" or "broken pipe"', ANY, "patterns"],
                  ["Slow answers", "has duration_ms", "JSON and key=value lines that have duration_ms", "measure", "p95(duration_ms) by host.name per auto"],
                  ["Answers of web servers that failed", "http.response.status_code >= 500", ACCESS, "measure", "count by http.response.status_code per auto"]),
        *starters("configuration changes",
                  ["Configuration of devices was changed", "configuration and (changed or configured or commit*)", "network devices, and all else that says so"],
                  ["Packages were installed, upgraded or removed", "(status or install or upgrade or remove) and (installed or upgrade or package or packages)", "package manager logs"],
                  ["A unit or a schedule was changed", '"daemon-reload" or reloading or reloaded or crontab', SYSLOG],
                  ["Accounts and groups were changed", 'useradd or usermod or userdel or groupadd or "new user" or event.id in (4720, 4722, 4726, 4732, 4738)', "Linux system logs and Windows events"],
                  ["What {user} did", '"{user}" and (sudo or command or changed or session)', ANY]),
        *starters("logons",
                  ["Failed logons", '"failed password" or "authentication failure" or "invalid user" or event.id = 4625', "sshd, PAM and Windows events"],
                  ["Logons that went well", '"accepted password" or "accepted publickey" or "session opened" or event.id = 4624', "sshd, PAM and Windows events"],
                  ["Everything about {user}", "{user}", ANY],
                  ["More rights were taken", 'sudo or "su:" or "privileges assigned" or event.id = 4672', "sudo, su and Windows events"],
                  ["Failed logons by address", '"failed password"', "sshd", "words"]),
        *starters("network",
                  ["Links went down or up", '(link or interface or line or port) and (down or up or flap* or "lost carrier")', ANY],
                  ["Neighbours were lost", "(neighbor or neighbour or adjacency or peer) and (down or lost or expired or reset)", "routers and routing services"],
                  ["Names were not found", 'nxdomain or servfail or "name resolution" or "could not resolve"', ANY],
                  ["Addresses ran out or clashed", 'dhcp* and (nak or "no free leases" or conflict or declin*)', "DHCP servers and clients"],
                  ["A firewall dropped or rejected", "(drop or dropped or reject or rejected or denied or blocked) and (src or source or from)", ANY, "patterns"]),
        *starters("storage",
                  ["Disks are full", '"no space left" or "disk full" or "filesystem full" or enospc or quota', ANY],
                  ["Disks fail", '"i/o error" or "medium error" or "bad sector" or smart* or "uncorrectable"', SYSLOG],
                  ["File systems turned read-only or are damaged", '"read-only" or remount* or corrupt* or fsck', SYSLOG],
                  ["Replication lags", "(replica* or replication or standby) and (lag or behind or delay*)", "database servers"]),
        *starters("certificates and clocks",
                  ["Certificates ran out or were refused", "(certificate or tls or ssl) and (expire* or invalid or unknown or refused or fail*)", ANY],
                  ["Clocks were set, or are off", Clocks::Steps::FIND, ANY],
                  ["Time servers cannot be reached", "(ntp or chrony* or time) and (unreachable or unsynchronised or unsynchronized or \"no server\")", SYSLOG]),
        *starters("noise",
                  ["What is written most", "", ANY, "patterns"],
                  ["Who writes most", "", ANY, "measure", "count by host.name per auto"],
                  ["Debug lines", "severity = debug", ANY, "measure", "count by service.name per auto"],
                  ["Lines with {word}, condensed", "{word}", ANY, "patterns"])
      ].freeze

      # @return [Array<String>] in the order in which they are shown
      def self.topics = ALL.map(&:topic).uniq
    end
  end
end
