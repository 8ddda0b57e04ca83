# frozen_string_literal: true

require "oj"

module Northdrift
  module Store
    # Lines that the database refused for what is in them: kept in a file of the data folder, and told.
    module Aside
      FILE = "aside.ndjson"

      module_function

      # They are on the disk when it returns; those of one call may be there twice when the process ends before what is
      # left of their batch is written.
      # @param part [#batch, #source_id, #first_line]
      # @param indexes [Array<Integer>] in its batch
      # @param error [StandardError] why
      def add(part, indexes, error)
        reason = error.message.lines.first.to_s.strip
        File.open(path, File::WRONLY | File::APPEND | File::CREAT) do |file|
          indexes.each { |index| file.puts(Oj.dump(entry(part, index, reason), mode: :strict)) }
          file.fsync
        end
        tell(part.source_id, indexes.size, reason)
      end

      # @return [String]
      def path = File.join(File.dirname(Database.path), FILE)

      # @return [Hash] the text in Base64 (RFC 4648, section 4), since it may have any bytes
      def entry(part, index, reason)
        batch = part.batch
        raw = Head.restore(batch.heads[index], batch.times[index]) + batch.bodies[index]
        {
          "source" => part.source_id, "line" => batch.lines[index] + part.first_line, "time_us" => batch.times[index],
          "reason" => Text.display(reason), "base64" => [raw].pack("m0")
        }
      end
      private_class_method :entry

      def tell(source_id, count, reason)
        lines = count == 1 ? "1 line was" : "#{count} lines were"
        said = "#{lines} refused by the database and put aside in #{path}: #{Text.display(reason)}"
        warn "northdrift: #{said}"
        Source.where(id: source_id).update_all(problem: said)
        Feed.where(id: Source.where(id: source_id).select(:feed_id)).update_all(problem: said)
      end
      private_class_method :tell
    end
  end
end
