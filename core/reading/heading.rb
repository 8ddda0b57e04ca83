# frozen_string_literal: true

module Northdrift
  module Reading
    # What loggers put around the time of a line: level, process, thread, logger, place in the code, in any order and
    # set off from the text by brackets, bars, colons or dashes. Each part is told by its shape (common practice of the
    # loggers of all languages); the first thing that is none of them is the text.
    module Heading
      LEVELS = Severity::WORDS.keys.sort_by { |word| [-word.size, word] }.join("|")
      END_OF_PART = '(?=[\s\[\])>|:,-]|\z)'
      SUFFIXES = "cc?|cpp|cxx|h|hpp|go|rs|py|rb|js|mjs|ts|java|kt|scala|php|p[lm]|swift|exs?|erl|cs|lua"
      CODE_FILE = "[\\w./\\\\@~+-]{1,200}\\.(?:#{SUFFIXES})".freeze
      LOGGER = '[A-Za-z_$][\w$]*(?:(?:\.|::|\\\\)[\w$<>]+)+'

      UPPER, LOWER, DIGIT = ["A".."Z", "a".."z", "0".."9"].map { |range| range.to_a.join.freeze }
      LETTER = (UPPER + LOWER).freeze
      WORD = "#{LETTER}#{DIGIT}_".freeze
      NAME = "#{LETTER}_$".freeze
      HEXADECIMAL = "#{DIGIT}ABCDEFabcdef".freeze
      FILE = "#{WORD}./\\@~+-".freeze
      SIGN = "-|:>,;*# \t\r\n\f\v"

      # A part: its shape, the names of what it captures, and the bytes that it can begin with. `level` is the record's
      # own; a second process number is a thread's.
      Part = Struct.new(:shape, :names, :first)
      PARTS = [
        # Between two parts
        Part.new(/\G(?:[-|:>,;*#]+(?=\s|\z|\[)|\s+)/, [], SIGN),
        # "error hostd[12] ", "util.py[WARNING]: "
        Part.new(/\G(#{LEVELS}) ([a-z][\w.-]{0,63})\[(\d{1,10})\]:?(?= )/o, %w[level service process.pid], LOWER),
        Part.new(/\G([\w.-]{1,64})\[(#{LEVELS.upcase})\]:(?= )/o, %w[logger.name level], "#{WORD}.-"),
        # "info: App.Program[14]", .NET console logging: formatter `simple`
        Part.new(
          /\G(trce|dbug|info|warn|fail|crit): ([A-Za-z][\w.]{0,200})\[(\d{1,9})\](?=\s|\z)/,
          %w[short logger.name event.id], LOWER
        ),
        # "INFO|App.Program|"
        Part.new(/\G\|?(#{LEVELS.upcase})\|([A-Za-z_][\w.$]{0,200})\|/o, %w[level logger.name], "|#{UPPER}"),
        # "[INFO]", "<Notice>", "(warn)", "[info     ]", "[INFO/MainProcess]", "[core:error]"
        Part.new(
          /\G[\[<(] *(?:([\w-]+):)?(#{LEVELS})(?:\/([\w.-]+))? *[\])>]:?/io, %w[log.module level process.name], "[(<"
        ),
        # "INFO/MainProcess]", where the bracket was opened before the time
        Part.new(/\G(#{LEVELS})\/([\w.-]+)\]/io, %w[level process.name], LETTER),
        # "INFO", "WARNING:", "info:"; small letters need a colon or a bar
        Part.new(/\G(#{LEVELS.upcase})#{END_OF_PART}:?/o, %w[level], UPPER),
        Part.new(/\G(#{LEVELS}) {0,8}(?::(?=\s|\z)|\|)/io, %w[level], LETTER),
        # "Info                  CBS    ", "Warning\t": columns
        Part.new(/\G(#{LEVELS.gsub(/\b[a-z]/, &:upcase)})(?= {2,}|\t)/o, %w[level], UPPER),
        # "[Server thread/WARN]:"
        Part.new(%r{\G\[([A-Za-z][\w .:\#@$-]{0,63})/(#{LEVELS.upcase})\]:?}o, %w[thread.name level], "["),
        # "system,info,account ", as routers have their topics
        Part.new(/\G((?:[a-z0-9-]{1,20},){1,4}[a-z0-9-]{1,20})(?= )/, %w[topics], "#{LOWER}#{DIGIT}-"),
        # "I CONTROL  [main]", as a database server has its levels and parts (MongoDB 4.2 manual, "Log Messages")
        Part.new(/\G([DIWEF])[1-5]? ([A-Z][A-Z_]{0,15}|-) +(?=\[)/, %w[letter logger.name], UPPER),
        # "I | ", "E [a.c:12:f]", "W! ", "I: [main]": a letter set off
        Part.new(/\G([TDIWENCF])(?: \| | (?=\[)|! |: (?=\[))/, %w[letter], UPPER),
        Part.new(/\G\[([TDIWECF])\](?= )/, %w[letter], "["),
        # "1234  1250 E ActivityManager: ", Android's log by threads (Android Developers, "logcat command-line tool")
        Part.new(
          /\G(\d{1,10}) +(\d{1,10}) ([VDIWEF]) ([^\s:]{1,64}) *:(?= )/,
          %w[process.pid thread.id letter logger.name], DIGIT
        ),
        # "0000004c ServletWrapper E ", application servers of Java
        Part.new(/\G(\h{8}) ([A-Za-z_$][\w.$]{0,40}) +([FEWAICDORZ])(?= )/, %w[thread.id logger.name mark],
                 HEXADECIMAL),
        # "vcpu-0| W115: ", "In(182) vmkernel: ", virtual machines and their hosts
        Part.new(/\G([\w-]{1,40})\| ([VDIWE])\d{3}:(?= )/, %w[thread.name letter], "#{WORD}-"),
        Part.new(
          /\G(Em|Al|Cr|Er|Wa|No|In|Db)\(\d{1,3}\) ([A-Za-z][\w.-]{0,63})(?:\[(\d{1,10})\])?:(?= )/,
          %w[short service process.pid], UPPER
        ),
        # "0x1a2c Error 0x1234 124 0 kernel: ", unified logs of macOS (log(1))
        Part.new(
          /\G(0x\h+) +(Default|Info|Debug|Error|Fault) +0x\h+ +(\d{1,10}) +\d+ +([\w. -]{1,64}): /,
          %w[thread.id short process.pid service], "0"
        ),
        # "(EE) "
        Part.new(/\G\((II|WW|EE)\)(?= )/, %w[short], "("),
        Part.new(/\G\[MSGID: (\d{1,9})\]/, %w[event.id], "["),
        # "7f12abcd1700 -1 ", as a storage cluster has its threads and levels (Ceph, src/log/Log.cc)
        Part.new(/\G(7f\h{10}) +(-?\d{1,2})(?= )/, %w[thread.id depth], "7"),
        # "7f12abcd Info:"
        Part.new(/\G(\h{8,16})(?= +(?:#{LEVELS})\b)/io, %w[thread.id], HEXADECIMAL),
        Part.new(/\GThreadId\((\d{1,9})\)(?= )/, %w[thread.id], "T"),
        # Seconds since the start, level and tags: JEP 158, unified JVM logging
        Part.new(
          /\G\[(\d{1,9}\.\d{3})s\](?:\[(\d+)\])?(?:\[(\d+)\])?\[(#{LEVELS}) *\](?:\[([\w,+]{1,80}) *\])?/io,
          %w[process.uptime process.pid thread.id level logger.name], "["
        ),
        # "13[IKE] <gate|1>" of key exchange daemons; "#12(normal)" of mail filters
        Part.new(/\G(\d\d)\[([A-Z]{3})\](?: <([^>\s]{1,64})>)?(?= )/, %w[thread.id logger.name connection.name], DIGIT),
        Part.new(/\G#(\d{1,10})\((\w{1,32})\)(?= )/, %w[process.pid process.name], "#"),
        # Bacula, Bareos: the daemon and its job
        Part.new(/\G((?:bacula|bareos)-(?:dir|sd|fd)) JobId (\d{1,10}):(?= )/, %w[service job.id], "b"),
        # "gate proftpd[12] 127.0.0.1"
        Part.new(
          /\G([A-Za-z][\w.-]{0,253}) ([a-z][\w-]{0,63})\[(\d{1,10})\](?= \h[\h.:]{1,45}(?::? |:\z))/,
          %w[machine service process.pid], LETTER
        ),
        # "[pid 12:tid 34]", "[pid: 12|", "(12)", "[12]", "[12:34]", "[12-34]"
        Part.new(/\G[\[(](?:pid[: ] ?)?(\d{1,10})(?:[:.,-] ?(?:tid ?)?(\d{1,20}))?[\])]:?/, %w[process.pid thread.id],
                 "[("),
        # "[kea-dhcp4.hosts/32086.140463109714432]", "[MY-010116]", "DHCP4_STARTING", "LOG5[main]:"
        Part.new(/\G\[([A-Za-z][\w.-]*)\/(\d{1,10})\.(\d{1,20})\]/, %w[logger.name process.pid thread.id], "["),
        Part.new(/\G\[([A-Z]{1,8}-\d{1,8})\]/, %w[event.name], "["),
        Part.new(/\G([A-Z][A-Z0-9]*(?:_[A-Z0-9]+)+)(?=:? )/, %w[event.name], UPPER),
        Part.new(/\GLOG([0-7])\[([^\]]{1,40})\]:/, %w[severity thread.name], "L"),
        # "startup\tinfo\t"
        Part.new(/\G([\w.:-]{1,64})\t(#{LEVELS})\t/io, %w[logger.name level], "#{WORD}.:-"),
        # "hall.ERROR:", as PHP's loggers name themselves and the level
        Part.new(/\G([\w-]{1,64}(?:\.[\w-]{1,64}){0,4})\.(#{LEVELS.upcase}): /o, %w[logger.name level], "#{WORD}-"),
        # "hall pacemakerd  [1942] (read_config) \tinfo:", as daemons of clusters have it
        Part.new(
          /\G([A-Za-z][\w.-]{0,253})\ ([a-z][\w.-]{0,63})\ +\[(\d{1,10})\]
           (?:\ \((\w+)(?:@[\w.]+:\d+)?\))?[\ \t]+(#{LEVELS}):\ /xo,
          %w[machine service process.pid code.function.name level], LETTER
        ),
        # "[12] hall corosync notice  [TOTEM ] "
        Part.new(
          /\G([A-Za-z][\w.-]{0,253}) ([a-z][\w-]{0,63}) (#{LEVELS}) +\[([A-Z]{1,8}) *\](?= )/o,
          %w[machine service level logger.name], LETTER
        ),
        # GLib's messages
        Part.new(/\G\(([\w.-]{1,64}):(\d{1,10})\):/, %w[service process.pid], "("),
        Part.new(/\G(?:([\w-]{1,64})-)?((?i:#{LEVELS})|Message)(?: \*\*)?:(?= )/o, %w[logger.name level], "#{WORD}-"),
        # Erlang's processes
        Part.new(/\G(<\d+\.\d+\.\d+>)/, %w[process.pid], "<"),
        # "12", "0x7f33aa"; a status before how long it took is none
        PROCESS = Part.new(/\G(?!\d{3} \| +[\d.]+\S{0,3}s \|)(\d{1,10})(?=\s|:(?: |\z))/, %w[process.pid], DIGIT),
        Part.new(/\G(0x\h{4,16})(?=\s|: )/, %w[thread.id], "0"),
        # "main.go:12:", "[a.c:12]", "(server.c.1057)", "{task.py:12}", "a/b.py:12:f"
        Part.new(
          /\G[\[({]?(#{CODE_FILE})[:.](\d{1,6})(?:[:.](\d{1,5}|[a-z_]\w*)(?:\(\))?)?[\])}]?:?(?=\s|\z)/o,
          %w[code.file.path code.line.number code.function.name], "[({#{FILE}"
        ),
        Part.new(
          /\G(#{CODE_FILE}):([A-Za-z_]\w*):(\d{1,6})(?=\s|\z)/o, %w[code.file.path code.function.name
                                                                    code.line.number], FILE
        ),
        # "sshd[12]:", and after a level the name of a part of the program
        Part.new(%r{\G([A-Za-z][\w./@%+-]{0,63})\[(\d{1,10})(?::\d+)?\]:?(?=\s|\z)}, %w[service process.pid], LETTER),
        # "[main]", "[nio-8080-exec-1]", "[           main]", "[com.example.Hall]"
        Part.new(
          /\G\[ *(#{LOGGER}|\w{1,64}(?= +:\d+ *\])) *(?::(\d{1,6}) *)?\]:?/o, %w[logger.name code.line.number], "["
        ),
        Part.new(/\G\[ *([A-Za-z][\w .:#@$\/-]{0,63}) *\]:?/, %w[thread.name], "["),
        # "Hall:12 -"
        Part.new(/\G([A-Za-z_$][\w$.]*):(\d{1,6})(?= +-)/, %w[logger.name code.line.number], NAME),
        # "__main__:f:12 -", "com.example.Hall -", "hall::seats:"
        Part.new(
          /\G(#{LOGGER}|[A-Za-z_]\w*):([A-Za-z_<]\w*>?):(\d{1,6})(?= )/o,
          %w[logger.name code.function.name code.line.number], NAME
        ),
        Part.new(/\G(#{LOGGER})(?:@(\d+))?(?::(?=[\s\w])|(?= *[-:|]+ | *\]| ))/o, %w[logger.name code.line.number],
                 NAME)
      ].freeze
      BY_FIRST_BYTE = Array.new(256) { |byte| PARTS.select { |part| part.first.b.include?(byte.chr) }.freeze }.freeze

      # Behind these a number is the text's own.
      BEHIND = %w[logger.name code.line.number].freeze
      # A bare word in front of a dash or colon is the logger where a level came before it.
      NAMED = /\G([A-Za-z_][\w-]{0,40})(?: +(?:--?|:)(?= )|:(?= \S)|\](?= ))/

      SHORT = {
        "trce" => "trace", "dbug" => "debug", "fail" => "error", "II" => "info", "WW" => "warning", "EE" => "error",
        "Em" => "emergency", "Al" => "alert", "Cr" => "critical", "Er" => "error", "Wa" => "warning", "No" => "notice",
        "In" => "info", "Db" => "debug", "Default" => "notice", "Fault" => "critical"
      }.freeze
      LETTERS = {
        "T" => "trace", "V" => "verbose", "D" => "debug", "I" => "info", "N" => "notice", "W" => "warning",
        "E" => "error", "C" => "critical", "F" => "fatal"
      }.freeze

      # Where a letter tells also what is none: output, audit, configuration.
      MARKS = {
        "F" => "fatal", "E" => "error", "W" => "warning", "A" => "notice", "I" => "info", "C" => "debug", "D" => "debug"
      }.freeze

      # No logger puts more around a time, nor so many parts and blanks between them.
      REACH = 500
      MOST = 24

      # What the parts come to.
      # @!attribute fields [Hash]
      # @!attribute level [String, nil] as it stands: a word, or a digit as of RFC 5424
      # @!attribute service [String, nil]
      # @!attribute machine [String, nil]
      # @!attribute stop [Integer] where the text starts
      Parts = Struct.new(:fields, :level, :service, :stop, :machine)

      module_function

      # @param parts [Parts]
      # @return [Array(Integer, String), nil] code and rule of the level
      def severity(parts)
        level = parts.level or return
        return [level.to_i, "level number #{level}"] if level.match?(/\A\d\z/)

        code = Severity.from_word(level)
        code && [code, "level word “#{level}”"]
      end

      # @param text [String] bytes
      # @param from [Integer] where the parts start
      # @param before [Parts, nil] what stands before the time
      # @return [Parts]
      def read(text, from, before = nil)
        parts = before || Parts.new({}, nil, nil, from)
        at = parts.stop = from
        MOST.times do
          at = at < from + REACH && step(text, at, parts) or break
          parts.stop = at
        end
        parts
      end

      def step(text, at, parts)
        BY_FIRST_BYTE[text.getbyte(at) || 0].each do |part|
          match = part.shape.match(text, at) or next
          next if part == PROCESS && BEHIND.any? { |name| parts.fields.key?(name) }

          part.names.each_with_index { |name, index| keep(parts, name, match[index + 1]) }
          return match.end(0)
        end
        return unless parts.level && (match = NAMED.match(text, at))

        keep(parts, "logger.name", match[1])
        match.end(0)
      end
      private_class_method :step

      def keep(parts, name, value)
        return if value.nil? || value.empty?

        case name
        when "short" then parts.level ||= SHORT.fetch(value, value)
        when "letter" then parts.level ||= LETTERS.fetch(value)
        when "mark" then parts.level ||= MARKS[value]
        when "topics" then topics(parts, value)
        when "level", "severity" then parts.level ||= value
        when "service" then parts.service ||= value
        when "machine" then parts.machine ||= value
        when "process.pid" then parts.fields[parts.fields.key?(name) ? "thread.id" : name] ||= value
        when "code.line.number" then parts.fields[name] ||= value.to_i
        when "depth"
          parts.fields["log.level.number"] = value
          parts.level ||= "error" if value.start_with?("-")
        when "process.uptime" then parts.fields[name] ||= value.to_f
        else parts.fields[name] ||= value.rstrip
        end
      end
      private_class_method :keep

      def topics(parts, value)
        level = value.split(",").find { |topic| Severity::WORDS.key?(topic) } or return
        parts.level ||= level
        parts.fields["log.topics"] ||= value
      end
      private_class_method :topics
    end
  end
end
