# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Uploads: their bytes are the body of a request; what becomes of them is told as it happens.
      class Imports < Resource
        RECENT = 500

        # The body is the file, whatever type a client gives it; nothing may read it as a form.
        def call(env) = super(env.merge("CONTENT_TYPE" => "application/octet-stream"))

        get "/" do
          json("imports" => Store::Import.order(id: :desc).limit(RECENT).map { |import| present(import) })
        end

        # The name has the folders that the file lay in.
        post "/" do
          name = text("name")
          raise BadParameter.new("name", "name is missing") if name.empty?

          check_size(request.body.size)
          zone = params["zone"].to_s.empty? ? "UTC" : params["zone"]
          unless TZInfo::Timezone.all_identifiers.include?(zone)
            raise BadParameter.new("zone", "there is no time zone “#{Text.display(zone)}”")
          end

          machine = params["machine"].to_s.empty? ? nil : text("machine")
          import =
            settings.jobs.add(
              request.body,
              name: name, zone: zone, machine: machine, now_us: now_us, given_us: time("given") || now_us
            )
          status 202
          json(present(import))
        end

        get "/:id" do
          json(present(Store::Import.find(params["id"])))
        end

        # Stops one that waits or is being read; what was read stays. One that has ended is taken back: its lines leave.
        delete "/:id" do
          import = Store::Import.find(params["id"])
          unless Store::Import.where(id: import.id, state: %w[waiting reading]).update_all(
            state: "cancelled", ended_us: now_us
          ) == 1
            Store::Import.where(id: import.id, state: %w[done cancelled failed]).update_all(state: "leaving")
          end
          json(present(import.reload))
        end

        private

        def check_size(bytes)
          most = Store::UploadLimits.current
          if bytes > most.bytes
            problem(413, "too-large", "an upload may have #{most.megabytes} MB here (northdrift keep)")
          end
          no_room = settings.jobs.no_room(bytes) or return
          problem(507, "no-room", no_room)
        end

        def present(import)
          {
            "id" => import.id, "name" => Text.display(import.name), "state" => import.state, "bytes" => import.bytes,
            "bytes_read" => import.bytes_read, "results" => Oj.load(import.results, mode: :strict),
            "created_us" => import.created_us, "ended_us" => import.ended_us
          }
        end
      end
    end
  end
end
