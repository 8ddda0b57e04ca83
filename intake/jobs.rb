# frozen_string_literal: true

require "fileutils"
require "oj"
require "securerandom"

module Northdrift
  module Intake
    # Uploads on their way in: the web process puts a file into the spool folder and a row into the table, the collector
    # process reads it. A job that was interrupted is taken up again, and goes on where it was.
    class Jobs
      SPOOL = "spool"
      POLL_SECONDS = 0.4
      # Progress is written down so often at most.
      NOTE_SECONDS = 0.3

      # @param dir [String] data folder
      def initialize(dir)
        @dir = dir
        @spool = File.join(dir, SPOOL)
        FileUtils.mkdir_p(@spool)
      end

      # @param bytes [Integer] of an upload
      # @return [String, nil] why there is no room for so many
      def no_room(bytes)
        free = Store::Disk.of(@dir)&.free or return
        return if bytes < free - Live::Room::LAST.first

        "the upload has #{bytes / 1_000_000} MB, and #{free / 1_000_000} MB are free on the disk of the data folder"
      end

      # Takes in the bytes of an upload. The job waits for the collector once they are on disk.
      # @param input [#read]
      # @param name [String] as the person's computer has it, with folders
      # @param given_us [Integer] when the person gave it: the same for files that were given together
      # @return [Store::Import]
      def add(input, name:, zone:, machine:, now_us:, given_us: now_us)
        dir = File.join(@spool, SecureRandom.uuid)
        path = File.join(dir, safe(name))
        FileUtils.mkdir_p(File.dirname(path))
        File.open(path, "wb") do |file|
          IO.copy_stream(input, file)
          file.fsync
        end
        Store::Import.create!(
          name: name, path: path, zone: zone, machine: machine, bytes: File.size(path), created_us: now_us,
          given_us: given_us
        )
      rescue StandardError
        FileUtils.rm_rf(dir) if dir
        raise
      end

      # Reads what waits, one job after another, until told to stop.
      # @param stop [#call] returns true when it is time to end
      def run(stop: -> { false })
        Store::Import.where(state: "reading").update_all(state: "waiting")
        until stop.call
          job = Store::Import.where(state: %w[waiting leaving]).order(:id).first
          job ? take_up(job) : sleep(POLL_SECONDS)
        end
      end

      # Takes an upload's lines out again.
      # @param job [Store::Import]
      def take_back(job)
        removed = Store::Removal.remove(Store::Source.where(import_id: job.id).ids)
        job.update!(
          state: "removed", results: Oj.dump([{ "name" => job.name, "lines" => removed }], mode: :strict),
          ended_us: Store::Clock.now_us
        )
      rescue StandardError => error
        finish(
          job, "failed", nil, "taking back failed, and can be tried again: #{error.message.lines.first.to_s.strip}"
        )
      end

      # @param job [Store::Import]
      def work(job)
        return unless Store::Import.where(id: job.id, state: "waiting").update_all(state: "reading") == 1

        importer =
          Importer.new(
            zone: job.zone, machine: job.machine, import_id: job.id, name: job.name,
            place: ->(name) { Origin.of_upload(name, job.given_us || job.created_us, job.zone) }
          )
        noted = 0
        most = Store::UploadLimits.current.unpacked_bytes
        importer.import(Parts.new([job.path], most: most)) do |bytes, _|
          now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
          next if now - noted < NOTE_SECONDS

          noted = now
          unless Store::Import.where(id: job.id, state: "reading").update_all(
            bytes_read: bytes, results: results(importer)
          ) == 1
            raise Importer::Cancelled
          end
        end
        finish(job, "done", importer)
      rescue Importer::Cancelled
        finish(job, "cancelled", importer)
      rescue StandardError => error
        finish(job, "failed", importer, error.is_a?(Error) ? error.message : "reading failed: #{error.message}")
      end

      private

      def take_up(job) = job.state == "leaving" ? take_back(job) : work(job)

      def finish(job, state, importer, problem = nil)
        results = importer ? Oj.load(results(importer), mode: :strict) : []
        results << { "name" => job.name, "problem" => problem } if problem
        job.reload.update!(state: state, results: Oj.dump(results, mode: :strict), ended_us: Store::Clock.now_us)
        FileUtils.rm_rf(spool_dir(job.path)) if job.path&.start_with?(@spool)
      end

      def spool_dir(path) = File.join(@spool, path.delete_prefix("#{@spool}/").split("/").first)

      def results(importer)
        Oj.dump(
          importer.results.map do |result|
            result.to_h.transform_keys(&:to_s).merge("readers" => result.readers.transform_keys(&:to_s))
          end, mode: :strict
        )
      end

      # No name from outside leaves the folder.
      def safe(name)
        parts =
          name
            .split("/")
            .reject { |part| part.empty? || part == "." || part == ".." }
            .map { |part| part.gsub(/[\0\\]/, "_")[0, 120] }
        parts.empty? ? "upload" : File.join(*parts.last(6))
      end
    end
  end
end
