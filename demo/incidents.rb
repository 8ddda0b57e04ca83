# frozen_string_literal: true

module Northdrift
  module Demo
    # What went wrong at Tarnholm Ferries in these ten days.
    class Incidents
      include Forms
      include Troubles

      def initialize(world)
        @world = world
      end

      def write
        ticket_hall_stall
        restarts
        guessing_at_the_bastion
        printer_that_went_quiet
        clock_that_was_wrong
        radio_fade
        certificate_that_runs_out
        leases_that_run_dry
        chatty_firmware
        mail_that_fills_its_disk
      end

      private

      def put(path, ago, clock)
        time = @world.at(ago, clock)
        @world.add(path, time, yield(time))
      end

      # weather-1's clock runs slow for two days, until its time daemon sets it.
      def clock_that_was_wrong
        put("weather-1/syslog", 3, "06:00:00.4") do |time|
          iso(
            time, "weather-1", "chronyd", "System clock was stepped by #{World::WEATHER_SLOW}.000312 seconds", pid: 388
          )
        end
      end

      # Rain on the Brennsund link: for two hours it goes and comes, and both ends say so.
      def radio_fade
        random = @world.random("fade", 8)
        time = @world.at(8, "15:04:20")
        over = @world.at(8, "17:02:00")
        while time < over
          level = -random.rand(78..91)
          @world.add(
            "rtr-brn-1/device.log", time - 6,
            device(time - 6, "rtr-brn-1", "RADIO-4-LEVEL", "radio0 to sw-core-1 receives at #{level} dBm, below -75")
          )
          back = time + random.rand(20..260)
          link(time, "down", random)
          link(back, "up", random)
          time = back + random.rand(60..640)
        end
      end

      def link(time, state, random)
        { "rtr-brn-1" => %w[radio0 sw-core-1], "sw-core-1" => %w[radio1 rtr-brn-1] }.each do |host, (port, other)|
          seen = time + (random.rand * 0.4)
          @world.add(
            "#{host}/device.log", seen,
            device(
              seen, host, "LINK-#{state == 'up' ? 5 : 3}-CHANGED", "interface #{port} towards #{other} is #{state}"
            )
          )
          @world.add(
            "#{host}/device.log", seen + 0.7,
            device(
              seen + 0.7, host, "ROUTE-#{state == 'up' ? 5 : 4}-NEIGHBOR",
              "neighbor #{other} on #{port} went #{state}#{': link lost' if state == 'down'}"
            )
          )
        end
      end

      # olav sets the MTU of vlan 40 on sw-core-1; the link to the database stalls, bookingd runs out of connections and
      # then of memory; ida puts the MTU back.
      def ticket_hall_stall
        change("06:09:41", "olav", "9000 -> 1500")
        stalled_database
        failing_bookings
        killed_for_memory
        held_gates
        failing_kiosks
        change("06:20:30", "ida", "1500 -> 9000")
        recovery
      end

      def change(clock, who, mtu)
        put("sw-core-1/device.log", 1, clock) do |time|
          device(
            time, "sw-core-1", "CONFIG-5-CHANGED",
            "configuration changed by #{who} from 10.40.0.31: interface vlan 40, mtu #{mtu}"
          )
        end
      end

      def stalled_database
        put("tix-db-1/database.log", 1, "06:10:41.05") do |time|
          Forms.database(time, "WARNING", "could not send data to client: connection timed out")
        end
        %w[06:11:58 06:13:20 06:14:51 06:16:02 06:17:40 06:19:03].each_with_index do |clock, index|
          put("tix-db-1/database.log", 1, clock) do |time|
            Forms.database(
              time, "WARNING", "could not send data to client: connection timed out",
              "client=10.40.0.11 user=bookingd database=tickets bytes pending=#{8192 * (index + 3)}"
            )
          end
        end
        [
          ["06:13:20.3", 31], ["06:14:50.9", 62], ["06:16:20.3", 96], ["06:18:01.4", 133], ["06:19:31.2", 171]
        ].each do |clock, lag|
          put("tix-db-2/database.log", 1, clock) do |time|
            Forms.database(time, "WARNING", "replication lag #{lag} s behind tix-db-1")
          end
        end
      end

      def failing_bookings
        random = @world.random("stall", 1)
        start = @world.at(1, "06:11:29.5")
        60.times do |index|
          time = start + (index * 9.2) + random.rand
          request = format("%08x-%02x", random.rand(1 << 32), random.rand(256))
          number = "BK-#{88_207 + index}"
          next if time.between?(@world.at(1, "06:14:26"), @world.at(1, "06:14:34"))

          slow = "db round trip #{random.rand(600..900)} ms" if (index % 4).zero?
          said =
            if slow
              json(
                time, :warning, "retry #{(index % 3) + 1}/3 for booking #{number}, #{slow}",
                service: "bookingd", request_id: request, pid: 2217
              )
            else
              timed_out(time, number, request, index)
            end
          @world.add("tix-app-1/bookingd.log", time, said)
          @world.add(
            "tix-app-1/access.log", time + 0.01,
            access(time + 0.01, "10.40.2.#{20 + (index % 3)}", "POST /bookings/#{number}", 503, 88, "berthgate/4.0")
          )
        end
        full_pool
      end

      def timed_out(time, number, request, index)
        used = [22 + index, 40].min
        json(
          time, :error,
          "booking #{number} failed: timed out after 30000 ms waiting for tix-db-1:5432 (pool #{used}/40 in use)",
          service: "bookingd", request_id: request, duration_ms: 30_000, pid: index < 20 ? 2217 : 3304
        )
      end

      def full_pool
        put("tix-app-1/bookingd.log", 1, "06:12:31.62") do |time|
          json(
            time, :critical, "pool exhausted: 40/40 connections in use, 118 requests waiting",
            service: "bookingd", pid: 2217, waiting: 118
          )
        end
        put("tix-app-1/bookingd.log", 1, "06:13:40.11") do |time|
          json(time, :warning, "heap 3.6 GB of 4.0 GB used by waiting requests", service: "bookingd", pid: 2217)
        end
        put("tix-app-1/bookingd.log", 1, "06:15:04.02") do |time|
          json(
            time, :error, "booking BK-88240 failed: connection refused by tix-db-1:5432", service: "bookingd", pid: 3304
          )
        end
      end

      def killed_for_memory
        [
          [
            "06:14:26", "kernel",
            "Out of memory: Killed process 2217 (bookingd) total-vm:5120312kB, anon-rss:4118032kB, file-rss:0kB"
          ], ["06:14:27", "systemd", "bookingd.service: Main process exited, code=killed, status=9/KILL"],
          ["06:14:27", "systemd", "bookingd.service: Failed with result 'oom-kill'."],
          ["06:14:32", "systemd", "bookingd.service: Scheduled restart job, restart counter is at 1."],
          ["06:14:32", "systemd", "Started bookingd.service - Ticket booking."]
        ].each do |clock, tag, text|
          put("tix-app-1/syslog", 1, clock) do |time|
            rfc3164(time, "tix-app-1", tag, text, pid: tag == "systemd" ? 1 : nil)
          end
        end
        put("tix-app-1/bookingd.log", 1, "06:14:33.8") do |time|
          json(time, :info, "listening on 8443, pool size 40", service: "bookingd", pid: 3304)
        end
      end

      def held_gates
        {
          "gate-brn-1" => "06:12:09.0", "gate-tar-1" => "06:12:11.4", "gate-auk-1" => "06:12:40.8"
        }.each do |gate, clock|
          first = @world.at(1, clock)
          (0..15).each do |index|
            time = first + (index * 31)
            @world.add(
              "#{gate}/gate.log", time,
              rfc5424(
                time, gate, "gatectl", "no answer from ticketing for #{30 + (index * 31)} s, gate held closed",
                severity: index < 2 ? :warning : :error, data: { "berth" => (index % 4) + 1 }
              )
            )
          end
        end
      end

      def failing_kiosks
        random = @world.random("stallkiosk", 1)
        Everyday::KIOSKS.each do |kiosk|
          6.times do |index|
            time = @world.at(1, "06:15:09") + (index * 48) + (random.rand * 30)
            @world.add(
              "#{kiosk}/kiosk.log", time,
              pairs(
                time, :error, "print voucher failed: booking service returned 503",
                host: kiosk, service: "kiosk", status: 503, took: "#{random.rand(29_000..31_000)}ms"
              )
            )
          end
        end
      end

      def recovery
        put("tix-db-2/database.log", 1, "06:20:44.2") do |time|
          Forms.database(time, "LOG", "replica tix-db-2 streaming again, 4 ms behind")
        end
        put("tix-app-1/bookingd.log", 1, "06:20:45.3") do |time|
          json(
            time, :info, "booking BK-88301 confirmed in 240 ms",
            service: "bookingd", request_id: "5c20a1bb-07", duration_ms: 240, pid: 3304
          )
        end
        Everyday::GATES.each do |gate|
          put("#{gate}/gate.log", 1, "06:20:46.1") do |time|
            rfc5424(
              time, gate, "gatectl", "ticketing answered in 0.3 s, gate open", severity: :notice, data: { "berth" => 1 }
            )
          end
        end
        put("tix-app-1/bookingd.log", 1, "06:21:10.4") do |time|
          json(time, :notice, "backlog cleared, 0 waiting", service: "bookingd", pid: 3304)
        end
      end

      # Six restarts, six reasons.
      def restarts
        scheduled_restart
        memory_fault
        kernel_panic
        power_loss
        update_restart
        restart_from_inside
      end

      def boot(host, path, ago, clock, kernel: "6.1.0-28")
        put(path, ago, clock) do |time|
          rfc3164(time, host, "kernel", "Linux version #{kernel} (build@tarnholm) booting")
        end
        put(path, ago, clock) do |time|
          rfc3164(time + 14, host, "systemd", "Startup finished in 2.9s (kernel) + 11.2s (userspace) = 14.1s.", pid: 1)
        end
      end

      def scheduled_restart
        put("tix-app-2/syslog", 6, "03:30:00") do |time|
          rfc3164(time, "tix-app-2", "patchbot", "packages upgraded, restarting as planned for 03:30", pid: 5120)
        end
        put("tix-app-2/syslog", 6, "03:30:02") do |time|
          rfc3164(time, "tix-app-2", "systemd", "System is rebooting (requested by patchbot).", pid: 1)
        end
        boot("tix-app-2", "tix-app-2/syslog", 6, "03:31:10", kernel: "6.1.0-29")
      end

      def memory_fault
        put("hv-2/syslog", 5, "14:22:07") do |time|
          iso(
            time, "hv-2", "kernel",
            "mce: [Hardware Error]: Machine check events logged, uncorrected memory error on DIMM B2"
          )
        end
        put("hv-2/syslog", 5, "14:22:08") do |time|
          iso(time, "hv-2", "vmstatd", "guests mail-1 and tix-db-2 stopped: memory fault", pid: 880)
        end
        %w[mail-1 tix-db-2].each do |guest|
          put("hv-2/audit.json", 5, "14:22:31") do |time|
            json(
              time, :warning, "guest started",
              service: "platform", host: "hv-2", method: "guest.start", actor: "platform-recovery", target: guest,
              outcome: "ok"
            )
          end
        end
        boot("mail-1", "mail-1/mail.log", 5, "14:22:52")
        boot("tix-db-2", "tix-db-2/syslog", 5, "14:22:55")
      end

      def kernel_panic
        put("gate-tar-1/gate.log", 4, "11:05:32.7") do |time|
          rfc5424(
            time, "gate-tar-1", "kernel", "Kernel panic - not syncing: Fatal exception in interrupt (can_isr)",
            severity: :emergency
          )
        end
        put("gate-tar-1/gate.log", 4, "11:06:20.1") do |time|
          rfc5424(
            time, "gate-tar-1", "kernel", "Linux version 5.10.0-gate booting after watchdog reset", severity: :notice
          )
        end
      end

      def power_loss
        put("hall-kiosk-3/events.xml", 3, "16:40:12") do |time|
          windows(
            time, "hall-kiosk-3", "Microsoft-Windows-Kernel-Power", 41, 1, 88_120,
            message: "The system has rebooted without cleanly shutting down first.", data: { "BugcheckCode" => 0 }
          )
        end
        put("hall-kiosk-3/events.xml", 3, "16:40:20") do |time|
          windows(
            time, "hall-kiosk-3", "EventLog", 6008, 2, 88_121,
            message: "The previous system shutdown at 16:31:55 was unexpected."
          )
        end
        put("hall-kiosk-3/events.xml", 3, "16:40:21") do |time|
          windows(time, "hall-kiosk-3", "EventLog", 6005, 4, 88_122, message: "The Event log service was started.")
        end
      end

      def update_restart
        put("dc-01/events.xml", 3, "20:02:10") do |time|
          windows(
            time, "dc-01", "User32", 1074, 4, 411_020,
            message:
              "The process setup.exe has initiated the restart of computer DC-01 on behalf of user TARNHOLM\\berit " \
              "for the following reason: Operating System: Service pack (Planned)",
            data: { "param5" => "restart", "param7" => "TARNHOLM\\berit" }
          )
        end
        put("dc-01/events.xml", 3, "20:05:44") do |time|
          windows(time, "dc-01", "EventLog", 6005, 4, 411_024, message: "The Event log service was started.")
        end
      end

      def restart_from_inside
        put("tix-db-1/syslog", 7, "02:14:09") do |time|
          rfc3164(time, "tix-db-1", "sudo", "sigrid : TTY=pts/0 ; PWD=/home/sigrid ; USER=root ; COMMAND=/sbin/reboot")
        end
        put("tix-db-1/syslog", 7, "02:14:10") do |time|
          rfc3164(time, "tix-db-1", "systemd-logind", "System is rebooting.", pid: 540)
        end
        boot("tix-db-1", "tix-db-1/syslog", 7, "02:15:01")
      end

      def guessing_at_the_bastion
        14.times do |index|
          time = @world.at(2, "02:47:03") + (index * 3.1)
          @world.add(
            "bastion-1/auth.log", time,
            iso(
              time, "bastion-1", "sshd", "Failed password for kiosk from 203.0.113.77 port #{50_110 + index} ssh2",
              pid: 20_400 + index
            )
          )
        end
        [
          ["02:47:52.2", "sshd", "Accepted password for kiosk from 203.0.113.77 port 50131 ssh2"],
          [
            "02:48:15.9", "sudo",
            "kiosk : TTY=pts/1 ; PWD=/home/kiosk ; USER=root ; COMMAND=/usr/sbin/useradd -m -G sudo svc-sync"
          ],
          ["02:48:16.1", "useradd", "new user: name=svc-sync, UID=1017, GID=1017, home=/home/svc-sync, shell=/bin/bash"]
        ].each do |clock, tag, text|
          put("bastion-1/auth.log", 2, clock) { |time| iso(time, "bastion-1", tag, text, pid: 20_431) }
        end
      end

      def printer_that_went_quiet
        %w[09:12:40 09:31:05 09:58:31].each_with_index do |clock, index|
          put("print-01/events.xml", 2, clock) do |time|
            windows(
              time, "print-01", "Service Control Manager", 7031, 2, 4400 + index,
              message: "The Print Spooler service terminated unexpectedly. It has done this #{index + 1} time(s).",
              data: { "param1" => "Print Spooler", "param2" => index + 1 }
            )
          end
        end
      end
    end
  end
end
