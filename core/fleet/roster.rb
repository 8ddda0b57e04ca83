# frozen_string_literal: true

require "csv"
require "oj"

module Northdrift
  module Fleet
    # What people know of their machines, as a table that can be handed round: CSV with a header (RFC 4180), or JSON.
    module Roster
      COLUMNS = %w[machine site role tags needs runs_on].freeze
      LIST = /[;\s]+/
      NAME = /\A[^\s;,"]{1,255}\z/
      MOST = 20_000

      # The table will not do. Its message says where.
      class Mistake < Error; end

      # @!attribute name [String]
      # @!attribute site [String, nil]
      # @!attribute role [String, nil]
      # @!attribute tags [Array<String>]
      # @!attribute needs [Array<String>]
      # @!attribute runs_on [String, nil]
      Machine = Struct.new(:name, :site, :role, :tags, :needs, :runs_on, keyword_init: true)

      module_function

      # @param text [String] CSV or JSON
      # @return [Array<Machine>]
      # @raise [Mistake]
      def read(text)
        text = text.dup.force_encoding(Encoding::UTF_8).delete_prefix("\u{FEFF}")
        raise Mistake, "the table is no text in UTF-8" unless text.valid_encoding?

        machines = text.lstrip.start_with?("{", "[") ? json(text) : csv(text)
        raise Mistake, "there is no machine in it" if machines.empty?
        raise Mistake, "there are more than #{MOST} machines in it" if machines.size > MOST

        twice = machines.map(&:name).tally.find { |_, n| n > 1 }
        raise Mistake, "machine #{twice.first} stands in it twice" if twice

        machines
      end

      # @param machines [Array<Machine>]
      # @return [String] CSV
      def to_csv(machines)
        CSV.generate do |csv|
          csv << COLUMNS
          machines.each do |one|
            csv << [one.name, one.site, one.role, one.tags.join(";"), one.needs.join(";"), one.runs_on].map do |cell|
              harmless(cell)
            end
          end
        end
      end

      # @param machines [Array<Machine>]
      # @return [String] JSON
      def to_json(machines)
        list =
          machines.map do |one|
            {
              "machine" => one.name, "site" => one.site, "role" => one.role, "tags" => one.tags, "needs" => one.needs,
              "runs_on" => one.runs_on
            }.compact
          end
        Oj.dump({ "machines" => list }, mode: :strict, indent: 2)
      end

      def csv(text)
        table = CSV.parse(text, headers: true, skip_blanks: true)
        headers = table.headers.compact.map { |name| name.strip.downcase }
        raise Mistake, "the first line must name the columns: #{COLUMNS.join(', ')}" unless headers.include?("machine")

        unknown = headers - COLUMNS
        unless unknown.empty?
          raise Mistake, "there is no column “#{Text.display(unknown.first)}”; there are #{COLUMNS.join(', ')}"
        end

        table.each_with_index.map do |row, index|
          machine(row.to_h.transform_keys { |name| name.to_s.strip.downcase }, "line #{index + 2}")
        end
      rescue CSV::MalformedCSVError => error
        raise Mistake, "it is no CSV: #{error.message}"
      end
      private_class_method :csv

      def json(text)
        object = Oj.load(text, mode: :strict)
        list = object.is_a?(Hash) ? object["machines"] : object
        raise Mistake, "the JSON must hold a list “machines”" unless list.is_a?(Array)

        list.each_with_index.map do |values, index|
          raise Mistake, "machine #{index + 1} is no object" unless values.is_a?(Hash)

          machine(values, "machine #{index + 1}")
        end
      rescue Oj::ParseError, EncodingError => error
        raise Mistake, "it is no JSON: #{error.message.lines.first.strip}"
      end
      private_class_method :json

      def machine(values, where)
        name = values["machine"].to_s.strip
        raise Mistake, "#{where}: the machine's name is missing" if name.empty?

        found =
          Machine.new(
            name: name, site: text(values["site"]), role: text(values["role"]), tags: list(values["tags"]),
            needs: list(values["needs"]), runs_on: text(values["runs_on"])
          )
        [found.name, *found.needs, *found.runs_on].each do |one|
          raise Mistake, "#{where}: “#{Text.display(one)}” is no machine's name" unless NAME.match?(one)
        end
        raise Mistake, "#{where}: #{name} cannot need itself" if [*found.needs, found.runs_on].include?(name)

        found
      end
      private_class_method :machine

      # Written so that no spreadsheet computes it; read back as it was.
      def harmless(cell) = cell.to_s.match?(/\A[=+\-@\t]/) ? "'#{cell}" : cell
      private_class_method :harmless

      def text(value)
        value = value.to_s.strip
        value = value[1..] if value.match?(/\A'[=+\-@\t]/)
        value.empty? ? nil : value
      end
      private_class_method :text

      def list(value)
        (value.is_a?(Array) ? value.map(&:to_s) : value.to_s.split(LIST)).filter_map { |one| text(one) }.uniq
      end
      private_class_method :list
    end
  end
end
