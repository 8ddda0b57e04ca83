# frozen_string_literal: true

module Northdrift
  module Demo
    # One ordinary day of all machines.
    class Everyday
      include Forms

      GATES = %w[gate-tar-1 gate-brn-1 gate-auk-1].freeze
      KIOSKS = %w[hall-kiosk-1 hall-kiosk-2 hall-kiosk-3 hall-kiosk-4].freeze
      # Boarding for the first ferry: everything is busy.
      BOARDING = (5.8..6.8)
      AGENTS = [
        "kiosk/2.1", "berthgate/4.0", "Mozilla/5.0 (X11; Linux x86_64)", "Mozilla/5.0 (Windows NT 10.0; Win64; x64)"
      ].freeze
      STAFF = %w[ida olav berit sigrid].freeze
      NAMES = %w[tickets weather mail intranet timetable quay].freeze

      # The stall of the ticket hall: no booking of tix-app-1 goes through.
      STALL = (22_201..22_830)

      def initialize(world, ago)
        @world = world
        @ago = ago
        @start = world.at(ago, "00:00")
      end

      def write
        bookings
        database
        gates
        kiosks
        windows_servers
        network
        hosts
        linux
      end

      private

      # @yieldparam time [Time]
      # @yieldparam random [Random]
      def through_day(name, per_day, boarding: nil)
        random = @world.random(name, @ago)
        second = 0.0
        while second < World::DAY
          hour = second / 3600
          rate = if BOARDING.cover?(hour) && boarding
            boarding
          else
            per_day * (hour.between?(5, 23) ? 1.25 : 0.25)
          end
          second += -Math.log(1 - random.rand) * World::DAY / rate
          yield @start + second.round(6), random, second if second < World::DAY
        end
      end

      def stalled?(second) = @ago == 1 && STALL.cover?(second)

      def bookings
        number = 80_000 + (@world.today.yday * 911 % 7000) - (@ago * 900)
        %w[tix-app-1 tix-app-2].each_with_index do |app, index|
          through_day("booking#{app}", 420, boarding: 11_000) do |time, random, second|
            next if index.zero? && stalled?(second)

            number += 1
            booking(app, time, random, "BK-#{number}", GATES[random.rand(3)])
          end
          timetables(app)
          through_day("sys#{app}", 140) do |time, random|
            @world.add("#{app}/syslog", time, system_line(app, time, random))
          end
        end
        red_herring
      end

      def timetables(app)
        through_day("web#{app}", 300) do |time, random|
          status = random.rand(60).zero? ? 404 : 200
          @world.add(
            "#{app}/access.log", time,
            access(
              time, "10.40.#{random.rand(1..3)}.#{random.rand(10..240)}",
              "GET /timetable?port=#{%w[tar brn auk][random.rand(3)]}", status, 900 + random.rand(9000),
              AGENTS[random.rand(4)]
            )
          )
        end
      end

      # There since before the first day, and of no consequence.
      def red_herring
        through_day("herring", 400) do |time, random|
          @world.add(
            "tix-app-1/bookingd.log", time,
            json(
              time, :error,
              "loyalty service answered 404 for card #{random.rand(10_000..99_999)}, using the plain tariff",
              service: "bookingd", code: "LOY-404"
            )
          )
        end
      end

      def booking(app, time, random, name, gate)
        request = format("%08x-%02x", random.rand(1 << 32), random.rand(256))
        took = 90 + (random.rand**3 * 400).round
        log = "#{app}/bookingd.log"
        done = time + (took / 1000.0)
        @world.add(
          "#{gate}/gate.log", time - 0.04,
          rfc5424(
            time - 0.04, gate, "gatectl", "scan accepted, asking for #{name}",
            data: { "request.id" => request, "berth" => random.rand(1..4) }
          )
        )
        if random.rand(3).zero?
          @world.add(
            log, time, json(time, :debug, "begin booking #{name}", service: "bookingd", request_id: request, pid: 2217)
          )
        end
        @world.add(
          log, done,
          json(
            done, :info, "booking #{name} confirmed in #{took} ms",
            service: "bookingd", request_id: request, duration_ms: took, pid: 2217
          )
        )
        @world.add(
          "#{app}/access.log", done,
          access(
            done, "10.40.2.#{20 + GATES.index(gate)}", "POST /bookings/#{name}", 201, 312 + random.rand(80),
            "berthgate/4.0"
          )
        )
      end

      def system_line(host, time, random)
        case random.rand(5)
        when 0
          rfc3164(time, host, "CRON", "(root) CMD (/usr/local/sbin/rotate-vouchers)", pid: random.rand(9000..30_000))
        when 1
          rfc3164(
            time, host, "systemd", "Started session-#{random.rand(100..999)}.scope - Session of user sigrid.", pid: 1
          )
        when 2
          rfc3164(time, host, "chronyd", "Selected source 10.40.0.5", pid: 611)
        when 3
          rfc3164(time, host, "systemd", "Finished logrotate.service - Rotate log files.", pid: 1)
        else
          rfc3164(
            time, host, "sshd", "Accepted publickey for backup from 10.40.0.9 port #{random.rand(40_000..60_000)} ssh2",
            pid: random.rand(9000..30_000)
          )
        end
      end

      def database
        { "tix-db-1" => 44_000, "tix-db-2" => nil }.each do |host, boarding|
          through_day("db#{host}", 300, boarding: boarding) do |time, random, second|
            next if host == "tix-db-1" && @ago == 1 && second.between?(22_241.9, 22_288.4)

            @world.add("#{host}/database.log", time, database_line(host, time, random))
          end
          through_day("sys#{host}", 60) do |time, random|
            @world.add("#{host}/syslog", time, system_line(host, time, random))
          end
        end
      end

      def database_line(host, time, random)
        return super_slow(time, random) if random.rand(90).zero?
        if random.rand(6).zero?
          return (
            Forms.database(
              time, "LOG",
              "checkpoint complete: wrote #{random.rand(20..900)} buffers in #{random.rand(1..40)}.#{random.rand(10)} s"
            )
          )
        end
        if host == "tix-db-2"
          return Forms.database(time, "LOG", "streaming from tix-db-1, #{random.rand(1..40)} ms behind")
        end

        Forms.database(
          time, "LOG", "connection authorized: user=bookingd database=tickets client=10.40.0.#{11 + random.rand(2)}"
        )
      end

      def super_slow(time, random)
        Forms.database(
          time, "LOG", "duration: #{random.rand(400..2600)}.#{random.rand(999)} ms  statement:",
          "SELECT berth, count(*) FROM bookings\n  WHERE sailing = #{random.rand(100..999)}\n  GROUP BY berth ORDER " \
          "BY 1"
        )
      end

      def gates
        GATES.each do |gate|
          through_day("beat#{gate}", 560) do |time, random, second|
            next if stalled?(second)

            @world.add(
              "#{gate}/gate.log", time,
              rfc5424(
                time, gate, "gatectl", "ticketing answered in 0.#{random.rand(1..4)} s, gate open",
                data: { "berth" => random.rand(1..4) }
              )
            )
          end
          through_day("motor#{gate}", 30) do |time, random|
            @world.add(
              "#{gate}/gate.log", time,
              rfc5424(
                time, gate, "motord", "barrier current #{random.rand(18..31)}.#{random.rand(10)} A above the usual",
                severity: :warning, data: { "berth" => random.rand(1..4) }
              )
            )
          end
        end
      end

      def kiosks
        KIOSKS.each do |kiosk|
          through_day("kv#{kiosk}", 150) do |time, random|
            @world.add(
              "#{kiosk}/kiosk.log", time,
              pairs(
                time, :info, "voucher printed",
                host: kiosk, service: "kiosk", printer: "vp-#{random.rand(1..2)}", took: "#{random.rand(600..2400)}ms",
                bytes: random.rand(9000..40_000)
              )
            )
          end
          through_day("win#{kiosk}", 24) do |time, random|
            @world.add(
              "#{kiosk}/events.xml", time,
              windows(
                time, kiosk, "KioskShell", 1201, 4, random.rand(10_000..99_999),
                channel: "Application",
                message: "The session was reset after #{random.rand(40..300)} seconds without a touch.",
                data: { "seconds" => random.rand(40..300) }
              )
            )
          end
        end
      end

      def windows_servers
        through_day("dc", 320) do |time, random|
          user = [*STAFF, "kiosk", "kiosk", "backup"][random.rand(7)]
          @world.add(
            "dc-01/events.xml", time,
            windows(
              time, "dc-01", "Microsoft-Windows-Security-Auditing", 4624, 0, random.rand(100_000..999_999),
              channel: "Security", message: "An account was successfully logged on.",
              data: { "TargetUserName" => user, "IpAddress" => "10.40.1.#{random.rand(10..60)}", "LogonType" => 3 }
            )
          )
        end
        through_day("print", 150) do |time, random, second|
          next if @ago == 2 && second.between?(36_000, 62_000)

          @world.add(
            "print-01/events.xml", time,
            windows(
              time, "print-01", "Microsoft-Windows-PrintService", 307, 4, random.rand(1000..9999),
              channel: "Operational",
              message:
                "Document #{random.rand(100..999)}, voucher owned by kiosk was printed on vp-#{random.rand(1..2)}.",
              data: { "pages" => random.rand(1..4), "bytes" => random.rand(9000..90_000) }
            )
          )
        end
      end

      def network
        { "sw-core-1" => 60, "sw-tar-1" => 40, "rtr-brn-1" => 40, "rtr-auk-1" => 40 }.each do |host, rate|
          through_day("net#{host}", rate) do |time, random|
            said =
              [
                ["PORT-6-STATS", "port #{random.rand(1..24)} errors 0 drops #{random.rand(3)}"],
                ["CLOCK-6-SYNC", "clock in step with 10.40.0.5, offset #{random.rand(1..9)} ms"],
                ["ACCESS-6-LOGIN", "#{%w[olav backup][random.rand(2)]} logged in from 10.40.0.9"]
              ]
            @world.add("#{host}/device.log", time, device(time, host, *said[random.rand(said.size)]))
          end
        end
      end

      def hosts
        %w[hv-1 hv-2].each do |host|
          through_day("sys#{host}", 160) do |time, random|
            @world.add(
              "#{host}/syslog", time,
              iso(
                time, host, "vmstatd",
                "guest " \
                "#{(host == 'hv-1' ? %w[tix-app-1 tix-db-1 dns-1] : %w[tix-app-2 tix-db-2 mail-1])[random.rand(3)]}: " \
                "cpu " \
                "#{random.rand(3..60)} %, memory #{random.rand(40..80)} %",
                pid: 880
              )
            )
          end
          through_day("audit#{host}", 40) do |time, random|
            @world.add(
              "#{host}/audit.json", time,
              json(
                time, :info, "snapshot listed",
                service: "platform", host: host, method: "snapshot.list", actor: "backup", outcome: "ok",
                duration_ms: random.rand(20..200)
              )
            )
          end
        end
      end

      def linux
        bastion
        names_asked_for
        mail
        through_day("weather", 280) do |time, random|
          weather(time, "wind #{random.rand(2..14)} m/s from #{random.rand(0..359)}, gusts #{random.rand(4..22)} m/s")
        end
        through_day("crossing", 160) { |time, random| crossing(time, random) }
      end

      def bastion
        through_day("bastion", 260) do |time, random|
          user = STAFF[random.rand(4)]
          said = random.rand(12).zero? ? "Failed password" : "Accepted publickey"
          text = "#{said} for #{user} from 10.40.0.#{random.rand(30..60)} port #{random.rand(40_000..60_000)} ssh2"
          @world.add("bastion-1/auth.log", time, iso(time, "bastion-1", "sshd", text, pid: random.rand(9000..30_000)))
        end
      end

      def names_asked_for
        through_day("dns", 620) do |time, random|
          @world.add(
            "dns-1/syslog", time,
            rfc3164(
              time, "dns-1", "named",
              "client 10.40.#{random.rand(1..3)}.#{random.rand(10..240)}: " \
              "query #{NAMES[random.rand(6)]}.tarnholm.example IN A",
              pid: 702
            )
          )
        end
      end

      def mail
        through_day("mail", 420) do |time, random|
          @world.add(
            "mail-1/mail.log", time,
            rfc3164(
              time, "mail-1", "smtpd",
              "#{format('%010X', random.rand(1 << 40))}: to=<#{STAFF[random.rand(4)]}@tarnholm.example>, delay=0." \
              "#{random.rand(10..99)}, status=sent",
              pid: random.rand(900..9000)
            )
          )
        end
      end

      # What weather-1 writes has the time of its own clock.
      def weather(time, text)
        @world.add("weather-1/syslog", time, iso(@world.weather_clock(time), "weather-1", "windd", text, pid: 455))
      end

      # The booking service asks for the weather on the crossing, and has the answer soon after.
      def crossing(time, random)
        request = format("%08x-%02x", random.rand(1 << 32), random.rand(256))
        took = 60 + random.rand(200)
        log = "tix-app-2/bookingd.log"
        @world.add(
          log, time,
          json(time, :debug, "asking weather-1 for the crossing", service: "bookingd", request_id: request, pid: 3304)
        )
        {
          "crossing asked for" => 0.02, "crossing answered, waves of #{random.rand(1..9)} dm" => took / 1000.0
        }.each do |text, later|
          at = @world.weather_clock(time + later)
          @world.add(
            "weather-1/windd.log", time + later,
            rfc5424(at, "weather-1", "windd", text, data: { "request.id" => request }, pid: 455)
          )
        end
        done = time + 0.02 + (took / 1000.0)
        @world.add(
          log, done,
          json(
            done, :info, "weather for the crossing came in #{took} ms",
            service: "bookingd", request_id: request, duration_ms: took, pid: 3304
          )
        )
      end
    end
  end
end
