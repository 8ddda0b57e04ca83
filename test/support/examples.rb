# frozen_string_literal: true

module Northdrift
  # Lines of every format, and how they must be read.
  module Examples
    XML =
      '<Event xmlns="http://schemas.microsoft.com/win/2004/08/events/event"><System><Provider Name="Service Control ' \
      'Manager"/><EventID>7031</EventID><Level>2</Level>' \
      "<TimeCreated " \
      'SystemTime="2026-11-21T09:12:40.123456700Z"/><Computer>print-01</Computer></System><EventData><Data ' \
      'Name="param1">Print &amp; Spool</Data></EventData></Event>'

    # One line of each reader, and what must come of it: reader, time, severity, machine, service, message, some fields.
    ALL = {
      '<165>1 2026-11-22T06:12:09.5+01:00 gate-brn-1 gatectl 412 ID7 [gate@32473 request.id="7f31-9a" note="a \"b\" ' \
      '\]"] held closed' => [
        :rfc5424, "2026-11-22T05:12:09.500000Z", "notice", "gate-brn-1", "gatectl", "held closed",
        { "process.pid" => "412", "log.record.id" => "ID7", "request.id" => "7f31-9a", "note" => 'a "b" ]' }
      ],
      "Nov 22 06:14:26 tix-app-1 kernel: Out of memory: Killed process 2217 (bookingd)" => [
        :rfc3164, "2026-11-22T06:14:26.000000Z", "critical", "tix-app-1", "kernel",
        "Out of memory: Killed process 2217 (bookingd)", {}
      ],
      "<13>Nov  2 06:14:26 host su[99]: opened uid=0 for root" => [
        :rfc3164, "2026-11-02T06:14:26.000000Z", "notice", "host", "su", "opened uid=0 for root",
        { "process.pid" => "99", "uid" => "0" }
      ],
      "2026-11-22T06:14:26.123456+00:00 bastion-1 sshd[7]: Failed password for kiosk" => [
        :rfc3164, "2026-11-22T06:14:26.123456Z", "error", "bastion-1", "sshd", "Failed password for kiosk",
        { "process.pid" => "7" }
      ],
      "Nov 22 06:09:41 sw-core-1 %CONFIG-5-CHANGED: mtu 9000 -> 1500" => [
        :rfc3164, "2026-11-22T06:09:41.000000Z", "notice", "sw-core-1", "CONFIG", "mtu 9000 -> 1500",
        { "event.name" => "CHANGED" }
      ],
      '{"time":"2026-11-22T06:12:08.417Z","level":"error","msg":"failed","host":{"name":"tix-app-1"},' \
      '"request":{"id":"a-1","ok":false},"duration_ms":30000,"tags":["x","y"]}' => [
        :json, "2026-11-22T06:12:08.417000Z", "error", "tix-app-1", nil, "failed",
        { "request.id" => "a-1", "request.ok" => false, "duration_ms" => 30_000, "tags.1" => "y" }
      ],
      '{"ts":1795327928.5,"severity":40,"message":"slow","logger":"pool","trace_id":"ff"}' => [
        :json, "2026-11-22T06:12:08.500000Z", "warning", nil, nil, "slow",
        { "logger.name" => "pool", "trace.id" => "ff" }
      ],
      'ts=2026-11-22T06:15:09Z level=warn msg="print \"voucher\" failed" took=30412ms user=ida' => [
        :key_value, "2026-11-22T06:15:09.000000Z", "warning", nil, nil, 'print "voucher" failed',
        { "took" => "30412ms", "user.name" => "ida" }
      ],
      '10.40.2.20 - ida [22/Nov/2026:06:12:09 +0100] "POST /bookings/BK-1 HTTP/1.1" 503 88 "-" "berthgate/4.0"' => [
        :access_log, "2026-11-22T05:12:09.000000Z", "error", nil, "web-access", "POST /bookings/BK-1 HTTP/1.1",
        {
          "client.address" => "10.40.2.20", "user.name" => "ida", "http.request.method" => "POST",
          "http.response.status_code" => 503, "user_agent.original" => "berthgate/4.0"
        }
      ],
      XML => [
        :windows_event, "2026-11-21T09:12:40.123456Z", "error", "print-01", "Service Control Manager",
        "event 7031: param1=Print & Spool", { "event.id" => 7031, "param1" => "Print & Spool" }
      ],
      "[2026/11/22 06:12:08] WARN low on paper" => [
        :stamped, "2026-11-22T06:12:08.000000Z", "warning", nil, nil, "WARN low on paper", {}
      ],
      "Sun Nov 22 06:12:08 2026 all is well" => [
        :stamped, "2026-11-22T06:12:08.000000Z", "unset", nil, nil, "all is well", {}
      ],
      "1795327928417 no error here" => [
        :stamped, "2026-11-22T06:12:08.417000Z", "unset", nil, nil, "no error here", {}
      ],
      "22.11.2026 06:12:08,250 fatal: gone" => [
        :stamped, "2026-11-22T06:12:08.250000Z", "critical", nil, nil, "fatal: gone", {}
      ], "Use the BFG!" => [:plain, "2026-11-23T12:00:00.000000Z", "unset", nil, nil, "Use the BFG!", {}]
    }.freeze
  end
end
