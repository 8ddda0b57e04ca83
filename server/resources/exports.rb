# frozen_string_literal: true

require "oj"

module Northdrift
  module Server
    module Resources
      # Exports: asked for, fetched as a file while it is written, watched and cancelled.
      class Exports < Resource
        # How often progress is noted.
        EVERY_SECONDS = 0.3
        MOST_COLUMNS = 100

        # Somebody wants no more of it.
        Cancelled = Class.new(Error)

        post "/" do
          form = choice("form", Export::FORMS.keys, "ndjson")
          columns = params["columns"].to_s.split(",").map { |name| checked("columns", name) }.first(MOST_COLUMNS)
          asked = question
          limit = integer("limit", 1..(1 << 53), nil)
          Store::Export.old(now_us).delete_all
          export =
            Store::Export.create!(
              form: form, columns: json(columns), spec: json(spec_of(asked, limit)),
              lines: [asked.total, limit].compact.min, written: 0, state: "waiting", created_us: now_us
            )
          status 201
          json(present(export))
        end

        get "/:id" do
          json(present(found))
        end

        delete "/:id" do
          export = found
          Store::Export.where(id: export.id, state: %w[waiting writing]).update_all(state: "cancelled")
          json(present(export.reload))
        end

        get "/:id/file" do
          export = found
          problem(409, "cancelled", "this export was cancelled") if export.state == "cancelled"

          form = Export::FORMS.fetch(export.form)
          asked = Store::Question.new(**export.question.transform_keys(&:to_sym))
          content_type form.type
          attachment(
            "northdrift-#{Time.at(0, asked.from_us, :microsecond, in: 'UTC').strftime('%Y%m%d-%H%M')}.#{form.suffix}"
          )
          stream { |out| write(export, asked, out) }
        end

        private

        # That of somebody who sees something else is none.
        def found
          export = Store::Export.find(params["id"])
          export.question["sight"] == Store::Sight.find ? export : raise(ActiveRecord::RecordNotFound)
        end

        def spec_of(asked, limit)
          asked.spec.transform_keys(&:to_s).merge(
            "from_us" => asked.from_us, "to_us" => asked.to_us, "sheet" => { "limit" => limit, "zone" => zone }.compact
          )
        end

        # @return [String, nil] of times that are for people
        def zone
          name = params["zone"].to_s
          return if name.empty?

          if TZInfo::Timezone.all_identifiers.include?(name)
            name
          else
            raise(BadParameter.new("zone",
                                   "there is no such zone"))
          end
        end

        def options_of(export)
          { more: Oj.load(export.columns, mode: :strict), **export.sheet.transform_keys(&:to_sym) }
        end

        # What is cut short must not look like the whole: the connection breaks.
        def write(export, asked, out)
          export.update!(state: "writing", written: 0)
          told = clock
          pieces = Pieces.new(out)
          written =
            Server::Export.write(asked, export.form, pieces, **options_of(export)) do |count|
              next if clock - told < EVERY_SECONDS

              told = clock
              if gone? || Store::Export.where(id: export.id, state: "writing").update_all(written: count).zero?
                raise Cancelled, "the export was cancelled"
              end
            end
          pieces.flush
          export.update!(state: "done", written: written)
        rescue StandardError
          Store::Export.where(id: export.id, state: %w[waiting writing]).update_all(state: "cancelled")
          raise
        ensure
          ActiveRecord::Base.connection_handler.clear_active_connections!
        end

        def present(export)
          {
            "id" => export.id, "form" => export.form, "state" => export.state, "lines" => export.lines,
            "written" => export.written
          }
        end

        # Gathers small pieces, since each that is sent costs a call of the system.
        class Pieces
          SIZE = 64 * 1024

          def initialize(out)
            @out = out
            @held = String.new(encoding: Encoding::BINARY)
          end

          def <<(bytes)
            @held << bytes.b
            flush if @held.bytesize >= SIZE
            self
          end

          def flush
            @out << @held
            @held = String.new(encoding: Encoding::BINARY)
          end
        end
      end
    end
  end
end
