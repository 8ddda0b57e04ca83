# frozen_string_literal: true

module Northdrift
  module Reading
    # A notification as a line: a JSON object (see {Formats::JsonLines}) with names out of module files.
    class TrapLine
      SERVICE = "snmp"
      # How bad the generic ones are: common practice, of no source.
      LEVELS = {
        "coldStart" => "warning", "warmStart" => "notice", "linkDown" => "error", "linkUp" => "notice",
        "authenticationFailure" => "warning", "egpNeighborLoss" => "warning"
      }.freeze
      OID = /\A\d+(?:\.\d+)+\z/
      # Of what is in no row of a table.
      NO_ROW = ["", "0"].freeze
      # What stands for an object that no file names.
      UNNAMED = "oid."

      # @param trap [SnmpTrap]
      # @param mib [Mib]
      # @param sender [String] address of who sent it
      # @param time [Time] when it came: it has no time of its own
      def initialize(trap, mib, sender, time)
        @trap = trap
        @mib = mib
        @sender = sender
        @time = time
      end

      # @return [String] JSON, one line, UTF-8
      def to_s = Json.dump(about.merge(fields))

      private

      def about
        name = named(@trap.oid)
        {
          "time" => @time.utc.strftime("%Y-%m-%dT%H:%M:%S.%6NZ"), "host" => machine, "service" => SERVICE,
          "level" => LEVELS[name], "message" => message(name), "snmp.trap" => name, "snmp.version" => @trap.version,
          "snmp.sender" => @sender, "snmp.uptime" => @trap.uptime, "snmp.index" => index
        }.compact
      end

      def machine = text(@trap.name) || @trap.agent || @sender

      def message(name)
        said = fields.map { |field, value| "#{field}=#{value}" }.join(" ")
        said.empty? ? name : "#{name}: #{said}"
      end

      # What is said of several rows of a table has the row in its name.
      def fields
        @fields ||= @trap.values.to_h do |oid, value|
          name, rest = place(oid)
          [names.count(name) > 1 && !rest.empty? ? "#{name}.#{rest}" : name, shown(oid, value)]
        end
      end

      def names = @names ||= @trap.values.keys.map { |oid| place(oid).first }

      # @return [String, nil] the row that all of it is about
      def index
        rows = @trap.values.keys.map { |oid| place(oid).last }.reject { |rest| NO_ROW.include?(rest) }.uniq
        rows.first if rows.size == 1
      end

      def place(oid)
        name, rest = @mib.split(oid)
        name.empty? ? ["#{UNNAMED}#{oid}", ""] : [name, rest]
      end

      def shown(oid, value)
        case value
        when Integer then @mib.value(oid, value)
        when nil then ""
        when OID then named(value)
        else text(value)
        end
      end

      # What is no text is shown by its bytes. Some devices end texts as C does.
      def text(value)
        return if value.nil? || value.empty?

        text = value.delete_suffix("\0").force_encoding(Encoding::UTF_8)
        text.valid_encoding? && !text.match?(/[^[:print:]\s]/) ? text.strip : "0x#{value.unpack1('H*')}"
      end

      # An address has dots and digits, too.
      def named(oid)
        return oid unless oid.start_with?("1.3.6.")

        name = @mib.name(oid)
        name.match?(OID) ? oid : name
      end
    end
  end
end
