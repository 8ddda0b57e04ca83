# frozen_string_literal: true

module Northdrift
  module Demo
    # Troubles that grow slowly, over hours or days, until something gives.
    module Troubles
      BOOKING = "CN=booking.tarnholm.example"
      # Addresses that Little Auk has to lease.
      LEASES = 60
      CHATTER = [
        "sensor 3 raw=%d", "poll loop took %d us", "barrier angle %d", "motor current %d mA", "watchdog fed, %d ms left"
      ].freeze

      private

      # gate-auk-1 warned for days; at midnight the booking service's certificate has run out, and nobody looks until
      # morning.
      def certificate_that_runs_out
        (5..9).each do |ago|
          left = ago - 4
          put("gate-auk-1/gate.log", ago, "04:00:12.3") do |time|
            rfc5424(
              time, "gate-auk-1", "gatectl", "certificate #{BOOKING} of tix-app-1 expires in #{left} days",
              severity: :warning, data: { "days" => left }
            )
          end
        end
        every("certificate", 4, "00:00:09", "07:31:40", 48) do |time, random|
          @world.add(
            "gate-auk-1/gate.log", time,
            rfc5424(
              time, "gate-auk-1", "gatectl",
              "TLS handshake with tix-app-1 failed: certificate #{BOOKING} has expired, gate held closed",
              severity: :error, data: { "berth" => random.rand(1..4) }
            )
          )
        end
        renewed_certificate
      end

      def renewed_certificate
        put("tix-app-1/syslog", 4, "07:31:52") do |time|
          rfc3164(
            time, "tix-app-1", "sudo",
            "sigrid : TTY=pts/0 ; PWD=/root ; USER=root ; COMMAND=/usr/local/sbin/renew-certificate #{BOOKING}",
            pid: 8802
          )
        end
        put("gate-auk-1/gate.log", 4, "07:32:20.6") do |time|
          rfc5424(
            time, "gate-auk-1", "gatectl", "TLS handshake with tix-app-1 done, gate open",
            severity: :notice, data: { "berth" => 1 }
          )
        end
      end

      # Leases at Little Auk rise for three days, until a kiosk gets none.
      def leases_that_run_dry
        72.times do |hour|
          used = [31 + (hour * 29 / 66.0).round, LEASES].min
          time = @world.at(6, "12:00:31") + (hour * 3600)
          severity = used > 54 ? "warning: " : ""
          @world.add(
            "dns-1/syslog", time,
            iso(
              time, "dns-1", "dhcpd", "#{severity}pool auk 10.40.3.64/26: #{used} of #{LEASES} leases in use", pid: 702
            )
          )
        end
        no_address_to_give
        put("dns-1/syslog", 3, "14:05:12") do |time|
          iso(
            time, "dns-1", "dhcpd", "configuration changed by olav: pool auk, default-lease-time 86400 -> 7200",
            pid: 702
          )
        end
      end

      def no_address_to_give
        every("leases", 3, "09:12:04", "14:04:30", 70) do |time, random|
          @world.add(
            "dns-1/syslog", time,
            iso(
              time, "dns-1", "dhcpd",
              "error: DHCPDISCOVER from 02:00:5e:10:00:#{format('%02x', random.rand(64..71))} via 10.40.3.65: no " \
              "free leases in pool auk",
              pid: 702
            )
          )
          if random.rand(3).zero?
            @world.add(
              "hall-kiosk-4/kiosk.log", time + 1.2,
              pairs(
                time + 1.2, :error, "no address, working without the booking service",
                host: "hall-kiosk-4", service: "kiosk", interface: "eth0"
              )
            )
          end
        end
      end

      # A new firmware of gate-tar-1 talks a hundred times as much as the old one.
      def chatty_firmware
        put("gate-tar-1/gate.log", 2, "13:05:02.1") do |time|
          rfc5424(
            time, "gate-tar-1", "gatectl", "firmware updated by sigrid: 4.0.7 -> 4.1.0",
            severity: :notice, data: { "version" => "4.1.0" }
          )
        end
        every("firmware", 2, "13:05:20", "18:10:00", 1.9) do |time, random|
          @world.add(
            "gate-tar-1/gate.log", time,
            rfc5424(
              time, "gate-tar-1", "gatectl", format(CHATTER.sample(random: random), random.rand(1..4000)),
              severity: :debug, data: { "berth" => random.rand(1..4) }
            )
          )
        end
        put("gate-tar-1/gate.log", 2, "18:10:03.4") do |time|
          rfc5424(
            time, "gate-tar-1", "gatectl", "log level set to info by sigrid",
            severity: :notice, data: { "version" => "4.1.0" }
          )
        end
      end

      # /var of mail-1 fills in five days; then nothing can be queued.
      def mail_that_fills_its_disk
        60.times do |step|
          time = @world.at(6, "15:30:11") + (step * 7200)
          used = [80 + (step * 20 / 58.0).floor, 100].min
          @world.add(
            "mail-1/syslog", time,
            rfc3164(time, "mail-1", "diskwatch", "#{'warning: ' if used >= 90}/var is #{used} % full", pid: 918)
          )
        end
        every("mail", 1, "15:38:40", "17:21:00", 40) do |time, random|
          @world.add(
            "mail-1/syslog", time,
            rfc3164(
              time, "mail-1", "postfix/cleanup",
              "error: queue file write failed: No space left on device (message of #{random.rand(2..900)} kB deferred)",
              pid: 2100 + random.rand(40)
            )
          )
        end
        put("mail-1/syslog", 1, "17:21:26") do |time|
          rfc3164(
            time, "mail-1", "sudo",
            "olav : TTY=pts/1 ; PWD=/var/log ; USER=root ; COMMAND=/usr/bin/rm /var/log/mail.debug", pid: 31_007
          )
        end
        put("mail-1/syslog", 1, "17:30:11") do |time|
          rfc3164(time, "mail-1", "diskwatch", "/var is 61 % full", pid: 918)
        end
      end

      # Between two moments of a day, in the mean every so many seconds.
      def every(name, ago, from, to, seconds)
        random = @world.random(name, ago)
        time = @world.at(ago, from)
        over = @world.at(ago, to)
        while time < over
          yield time, random
          time += (seconds * (0.3 + (random.rand * 1.4))).round(3)
        end
      end
    end
  end
end
