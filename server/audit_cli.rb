# frozen_string_literal: true

module Northdrift
  module Server
    # The commands about who did what.
    class AuditCli < Commands
      desc "list", "print who did what, oldest first"
      option :data, DATA
      option :limit, type: :numeric, default: 100, desc: "at most so many of the latest"
      option :as, type: :string, default: "table", enum: %w[table json], desc: "form of the output"
      def list
        there
        Store::AuditTrail.latest(options[:limit].to_i).reverse_each { |entry| puts told(entry) }
      end

      desc "verify", "say whether the audit trail is as it was written"
      option :data, DATA
      def verify
        there
        entries, broken = Store::AuditTrail.verify
        puts broken ? "entry #{broken} is not as it was written, or one before it is missing" : "#{entries} entries, " \
          "whole"
        exit Cli::NOTHING if broken
      end

      no_commands do
        def told(entry)
          return Oj.dump(entry.to_h.transform_keys(&:to_s).merge("changes" => entry.changed), mode: :strict) if json?

          time = Time.at(0, entry.at_us, :microsecond, in: "UTC").strftime("%Y-%m-%dT%H:%M:%SZ")
          [time, entry.who, entry.action, entry.target, entry.outcome, entry.changed.map { |one| Store::Changes.told(one) }.join("; ")].map { |part| Text.line(part.to_s) }
            .join("\t")
        end

        def json? = options[:as] == "json"
      end
    end
  end
end
