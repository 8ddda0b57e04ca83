# frozen_string_literal: true

require "yaml"

module Northdrift
  module Server
    # The commands about alert rules, which are YAML files: one rule, or several under the key "rules".
    class RuleCli < Commands
      DAY_US = 86_400_000_000

      desc "try FILE…", "say what rules would have raised in the last days"
      option :data, DATA
      option :days, type: :numeric, default: 30, desc: "up to the last line that there is"
      option :as, type: :string, default: "table", enum: %w[table json], desc: "form of the output"
      def try(*files)
        rules = definitions(files).map { |definition| Northdrift::Watch::Rule.new(definition) }
        there
        to_us = [Store::Span.all[1].to_i, Store::Clock.now_us].min + 1
        rules.each { |rule| report(rule, Store::AlertTrial.new(rule, to_us - (options[:days].to_i * DAY_US), to_us)) }
      end

      desc "list", "list alert rules, and how many of their alerts are open"
      option :data, DATA
      def list
        there
        Store::AlertRule.present.each do |one|
          open = Store::Alert.where(rule_id: one.id).where.not(state: "closed").count
          columns = [one.id, one.enabled ? "on" : "off", one.given["name"], "#{open} open", one.problem]
          puts columns.compact.map { |column| Text.line(column.to_s) }.join("\t")
        end
      end

      desc "export [ID…]", "print alert rules as YAML"
      option :data, DATA
      def export(*ids)
        there
        found = ids.empty? ? Store::AlertRule.present : Store::AlertRule.present.where(id: ids)
        missing = ids - found.map { |one| one.id.to_s }
        raise Error, "there is no alert rule #{Text.line(missing.first)}" if missing.any?

        puts YAML.dump("rules" => found.map(&:given))
      end

      desc "import FILE…", "take alert rules in; one of the same name is replaced"
      option :data, DATA
      option :on, type: :boolean, default: false, desc: "switch those on that are new"
      def import(*files)
        given = definitions(files)
        given.each { |definition| Northdrift::Watch::Rule.new(definition) } # all of them, or none
        there
        now_us = Store::Clock.now_us
        known = Store::AlertRule.present.index_by { |one| one.given["name"] }
        ActiveRecord::Base.transaction do
          given.each do |definition|
            one = known[definition["name"]] || Store::AlertRule.new(enabled: options[:on], created_us: now_us)
            one.given = definition
            one.update!(changed_us: now_us)
          end
        end
        puts "#{given.size} rules"
      end

      no_commands do
        # @raise [Error] saying in which file what is wrong
        def definitions(files)
          raise Error, "say at least one file" if files.empty?

          files.flat_map { |file| of_file(file) }
        end

        def of_file(file)
          given = YAML.safe_load_file(file)
          rules = given.is_a?(Hash) && given.key?("rules") ? given["rules"] : [given]
          rules.each do |rule|
            raise Error, "#{Text.line(file)}: a rule has names and values" unless rule.is_a?(Hash)

            Northdrift::Watch::Rule.new(rule)
          rescue Rules::Mistake => error
            raise Error, "#{Text.line(file)}: #{Text.line(rule['name'].to_s)}: #{error.message}"
          end
        rescue Psych::Exception, SystemCallError => error
          raise Error, "#{Text.line(file)}: #{error.message.lines.first.strip}"
        end

        def report(rule, trial)
          found = trial.found
          return json(rule, trial, found) if options[:as] == "json"

          puts "#{Text.line(rule.name)}: #{found.size} alerts of #{trial.lines.size} lines"
          found.each do |one|
            puts "  #{time(one.span.raised_us)}  #{(one.span.last_us - one.span.raised_us) / 1_000_000} s  " \
                 "#{Text.line(one.key.join(' '))}"
          end
        end

        def json(rule, trial, found)
          alerts = found.map { |one| { "key" => one.key }.merge(one.span.to_h.transform_keys(&:to_s)) }
          puts Oj.dump({ "name" => rule.name, "lines" => trial.lines.size, "alerts" => alerts }, mode: :strict)
        end

        def time(us) = Time.at(0, us, :microsecond, in: "UTC").strftime("%Y-%m-%dT%H:%M:%SZ")
      end
    end
  end
end
