# frozen_string_literal: true

module Northdrift
  module Store
    # The lines of a day that were put away. States: away; coming while its lines are brought back, back when they are
    # there, going while they are taken out again.
    class Archive < Record
      self.table_name = "archives"

      FOLDER = "archive"
      DAY = "%Y-%m-%d"

      # @param time_us [Integer]
      # @param now_us [Integer]
      # @return [Archive] that of the day
      def self.of(time_us, now_us)
        day = Time.at(0, time_us, :microsecond, in: "UTC").strftime(DAY)
        find_or_create_by!(day: day) do |archive|
          archive.assign_attributes(file: "#{day}.ndjson.gz", created_us: now_us, changed_us: now_us)
        end
      end

      # @return [ArchiveFile]
      def content = ArchiveFile.new(path)

      # @return [String] beside the database
      def path = File.join(File.dirname(Database.path), FOLDER, file)
    end
  end
end
