# frozen_string_literal: true

module Northdrift
  module Reading
    module Formats
      # The BSD syslog protocol, RFC 3164 section 4: as sent (with PRI), and as files have it (without PRI, often with
      # an ISO 8601 stamp in place of the one that has no year).
      module Rfc3164
        NAME = :rfc3164
        TITLE = "syslog, RFC 3164"
        WHY = "a stamp, a machine and a tag as in RFC 3164 section 4"

        OPEN, DASH, BLANK = "<- ".bytes
        PRI = /\A<(\d{1,3})>/
        FORMS = %i[bsd iso weekday].freeze
        # Behind the process some daemons put the level (MIT Kerberos, src/lib/kadm5/logger.c), as macOS did; its
        # launchd names a job.
        LEVEL = "(?: ?[(<]((?i:#{Severity::WORDS.keys.join('|')}))[)>]| \\([\\w.-]{1,80}\\[\\d+\\]\\))?".freeze
        # Tag and process; the tag ends at the first character that is not part of a program's name.
        TAG = "([\\w./@%+-]{1,64})(?:\\[([\\w.:-]{1,32})\\])?#{LEVEL}:(?: |\\z)".freeze
        # Some systems put two blanks before the host.
        HEADER = %r{\G {1,2}([\w.:@/-]{0,254}[\w.@/-]) #{TAG}}
        # A sentence begins so, behind which a word with a colon is no tag.
        SENTENCE = /\A[A-Z][a-z]+\z/
        # What programs give to their own machine's syslog has no host (common practice; section 4.3 has relays put it
        # in).
        LOCAL = /\G #{TAG}/
        # A level behind the host ("hall err tmm[12]: ", and with the facility in AIX: "hall daemon:err tmm[12]: "), or
        # both before it ("<local0.info> hall ", syslogd(8) of the BSDs with -v).
        TOLD =
          /\G\ {1,2}(?:<(?<facility>\w{2,10})\.(?<level>\w{2,10})>\ (?<host>[\w.:-]{1,254})|
            (?<host>[\w.:-]{1,254})\ (?:(?<facility>[a-z]\w{1,9})(?:\|\w{1,20})?:)?
            (?<level>[a-z]{2,10})(?:\|[a-z]{2,10})?(?=\ \S+\[\d))/x
        # Security devices with columns in their text: a host, and what no program is called.
        COLUMNS = /\G\ {1,2}([\w.:-]{1,254})\ (?=[A-Z]{3,5}:\d[\d.]*\|)/x
        # illumos, log(4D): "[ID 702911 daemon.error] "
        NUMBERED = /\A\[ID (\d{1,9}) (\w{2,10})\.(\w{2,10})\] /
        NUMBERED_START = "[ID "
        # Section 5.4, example 1 and devices: a host and free text without a tag.
        HOST_ONLY = /\G ([A-Za-z0-9][\w.-]{0,254}) /
        # Messages of network devices: facility, severity, mnemonic.
        MNEMONIC = /\A%(?<facility>[A-Z][A-Z0-9_]*(?:-[A-Z0-9_]+)*?)-(?<severity>[0-7])-(?<mnemonic>[A-Z0-9_]+)\z/

        LONGEST_LEVEL = Severity::WORDS.keys.map(&:size).max

        module_function

        # @param line [String] bytes of one record
        # @param context [Context]
        # @return [Event, nil] nil when the line is of another format
        def read(line, context)
          pri = nil
          at = 0
          if line.getbyte(0) == OPEN && (sent = PRI.match(line))
            pri = Syslog.priority(sent[1])
            at = pri ? sent.end(0) : 0
          end
          text = at.zero? ? line : line.byteslice(at, line.bytesize)
          stamp = Stamp.read(text, context.clock, FORMS)
          return pri && bare(line, text, at, pri, context) unless stamp

          after = at + stamp.size
          header = HEADER.match(line, after)
          machine = header && header[1]
          if header && !level?(machine) && (pri || header[3] || !(loose?(text) || SENTENCE.match?(machine)))
            return if header[3] && level?(header[3])

            return tagged(line, header, [stamp, after], machine, pri, context)
          end

          local = LOCAL.match(line, after)
          if local && (pri || local[2]) && !level?(local[1])
            return tagged(line, local, [stamp, after], nil, pri, context)
          end

          wordy = pri ? nil : told(line, stamp, after, context)
          return wordy if wordy

          pri && untagged(line, HOST_ONLY.match(line, after), [stamp, after], pri, context)
        end

        # A date with a blank before the clock is what many programs write that have no machine behind it: "2026-11-22
        # 06:12:08 paper tray: low".
        def loose?(text) = text.getbyte(4) == DASH && text.getbyte(10) == BLANK
        private_class_method :loose?

        # Where facility and level are words.
        def told(line, stamp, after, context)
          columns = COLUMNS.match(line, after)
          return untagged(line, columns, [stamp, after], Syslog::NONE, context) if columns

          told = TOLD.match(line, after) or return
          pri = Syslog.named(told[:facility], told[:level]) or return
          local = LOCAL.match(line, told.end(0)) or return
          tagged(line, local, [stamp, after], told[:host], pri, context)
        end
        private_class_method :told

        # @param time [Array(Stamp::Found, Integer)] the stamp, and where it ends
        def tagged(line, header, time, machine, pri, context)
          stamp, after = time
          message = line.byteslice(header.end(0), line.bytesize)
          fields = {}
          service, pid, word = header.captures.last(3)
          fields["process.pid"] = pid if pid
          severity = pri&.severity
          severity ||= [Severity.from_word(word), "level word “#{word}”"] if word
          if service.start_with?("%") && (device = MNEMONIC.match(service))
            service = device[:facility]
            fields["event.name"] = device[:mnemonic]
            severity ||= [device[:severity].to_i, "severity digit of the message’s mnemonic"]
          end
          pri, message = numbered(message, fields) || [pri, message] if message.start_with?(NUMBERED_START)
          severity ||= pri&.severity
          inner, level = Payload.read(message, fields, context)
          context.event(
            line,
            reader: NAME, stamp: stamp, message: inner || message, body_at: body_at(line, after), machine: machine,
            service: service, severity: severity || level, fields: fields, constants: constants(pri)
          )
        end
        private_class_method :tagged

        def numbered(message, fields)
          match = NUMBERED.match(message) or return
          pri = Syslog.named(match[2], match[3]) or return
          fields["event.id"] = match[1]
          [pri, match.post_match]
        end
        private_class_method :numbered

        def untagged(line, host, time, pri, context)
          stamp, after = time
          at = host ? host.end(0) : body_at(line, after)
          message = line.byteslice(at, line.bytesize)
          context.event(
            line,
            reader: NAME, stamp: stamp, message: message, body_at: body_at(line, after), machine: host && host[1],
            severity: pri.severity, fields: Pairs.add(message, {}), constants: pri.constants
          )
        end
        private_class_method :untagged

        # Section 4.3.3: a PRI and nothing else that can be recognised; all the rest is content.
        def bare(line, text, at, pri, context)
          pairs = KeyValue.read(text, context)
          if pairs
            pairs.raw = line
            pairs.body_at = at
            pairs.constants = pri.constants
            return pairs
          end

          context.event(line, reader: NAME, stamp: nil, message: text, body_at: at, severity: pri.severity,
                              fields: Pairs.add(text, {}), constants: pri.constants)
        end
        private_class_method :bare

        def constants(pri) = pri ? pri.constants : Context::NO_FIELDS
        private_class_method :constants

        def body_at(line, after) = line.getbyte(after) == 32 ? after + 1 : after
        private_class_method :body_at

        # "2026-11-22T06:12:08Z ERROR main: text" has a level where a machine would stand.
        def level?(word) = word.bytesize <= LONGEST_LEVEL && Severity::WORDS.key?(word.downcase)
        private_class_method :level?
      end
    end
  end
end
