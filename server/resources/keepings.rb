# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # How long lines are kept, and the archives of those that are not any more.
      class Keepings < Resource
        MOST_DAYS = 36_500
        MOST_MEGABYTES = 10_000_000

        get "/" do
          json(state)
        end

        # What is deleted without an archive is gone for good: an administrator says so, and says it again.
        put "/" do
          object = carried
          keeping = wanted(object)
          unless keeping.archive || (keeping.days.nil? && keeping.megabytes.nil?)
            allow_role(Northdrift::People::Role::HIGHEST)
            unless object["confirmed"] == true
              problem(409, "not-confirmed",
                      "lines would be deleted for good: confirm it")
            end
          end
          keeping.save
          json(state)
        end

        # How much may be given at once.
        put "/uploads" do
          object = carried
          sizes = %i[megabytes unpacked_megabytes].to_h do |name|
            [name, whole(object, name.to_s, 1..MOST_MEGABYTES) || Store::UploadLimits::DEFAULTS.fetch(name)]
          end
          Store::UploadLimits.new(**sizes).save
          json(state)
        end

        # How many lines these settings would take out at once; nothing is kept.
        post "/trial" do
          keeping = wanted(carried)
          json("overdue" => keeping.overdue(now_us), "surplus" => keeping.surplus)
        end

        # Brings the lines of an archive back.
        post "/archives/:id/back" do
          moved("away", "coming")
        end

        delete "/archives/:id/back" do
          moved("back", "going")
        end

        delete "/archives/:id" do
          archive = Store::Archive.find(params["id"])
          raise Error, "its lines are in use; put them away first" unless archive.state == "away"

          archive.destroy!
          FileUtils.rm_f(archive.path)
          json(state)
        end

        private

        def wanted(object)
          Store::Keeping.new(
            days: whole(object, "days", 1..MOST_DAYS), megabytes: whole(object, "megabytes", 10..MOST_MEGABYTES),
            archive: object["archive"] != false
          )
        end

        def whole(object, name, range)
          value = object[name]
          return if value.nil?

          if value.is_a?(Integer) && range.cover?(value)
            value
          else
            raise(
              BadParameter.new(name, "#{name} must be a whole number from #{range.begin} to #{range.end}, or nothing")
            )
          end
        end

        def moved(from, to)
          archive = Store::Archive.find(params["id"])
          Store::Archive.where(id: archive.id, state: from).update_all(state: to, problem: nil, changed_us: now_us)
          json(state)
        end

        def state
          keeping = Store::Keeping.current
          keeping
            .to_h
            .transform_keys(&:to_s)
            .merge(
              "database_bytes" => Store::Database.bytes, "free_bytes" => Store::Disk.of(settings.dir)&.free,
              "uploads" => Store::UploadLimits.current.to_h.transform_keys(&:to_s),
              "lines" => Store::Question.new.total, "first_us" => Store::Span.all[0],
              "doing" => Store::Setting.get(Intake::Upkeep::DOING).to_s,
              "problem" => Store::Setting.get(Intake::Upkeep::PROBLEM).to_s,
              "archives" =>
                Store::Archive
                  .order(day: :desc)
                  .map do |archive|
                    archive.attributes.slice("id", "day", "file", "state", "lines", "bytes", "back_lines", "problem")
                  end
            )
        end
      end
    end
  end
end
