# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Investigations, what is pinned to them, and their reports.
      class Cases < Resource
        FACTS = %w[cause remedy effect note].freeze
        LONGEST = 10_000

        get "/" do
          found = Store::Case.search(text("text")).open_first.limit(500)
          json("cases" => found.map { |one| Present::Cases.a_case(one) })
        end

        post "/" do
          object = carried
          made =
            Store::Case.create!(
              title: required(object, "title"), created_us: now_us, changed_us: now_us,
              onset_us: whole(object, "onset_us")
            )
          status 201
          json(Present::Cases.a_case(made))
        end

        get "/:id" do
          json(whole_case(found))
        end

        patch "/:id" do
          one = found
          object = carried
          one.title = required(object, "title") if object.key?("title")
          FACTS.each { |fact| one[fact] = string(object, fact) if object.key?(fact) }
          one.onset_us = whole(object, "onset_us") if object.key?("onset_us")
          change_status(one, object["status"]) if object.key?("status")
          one.update!(changed_us: now_us)
          json(Present::Cases.a_case(one))
        end

        post "/:id/pins" do
          one = found
          object = carried
          made = Store::Pin.create!(case_id: one.id, created_us: now_us, note: string(object, "note"), **pinned(object))
          one.update!(changed_us: now_us)
          status 201
          json(Present::Cases.pin(made))
        end

        patch "/:id/pins/:pin" do
          pin = Store::Pin.present.find_by!(case_id: found.id, id: params["pin"])
          pin.update!(note: string(carried, "note"))
          json(Present::Cases.pin(pin))
        end

        delete "/:id/pins/:pin" do
          json(
            Present::Cases.pin(
              Store::Pin
                .present
                .find_by!(case_id: found.id, id: params["pin"])
                .tap { |pin| pin.update!(deleted_us: now_us) }
            )
          )
        end

        post "/:id/pins/:pin/restored" do
          json(
            Present::Cases.pin(
              Store::Pin.find_by!(case_id: found.id, id: params["pin"]).tap { |pin| pin.update!(deleted_us: nil) }
            )
          )
        end

        get "/:id/report.md" do
          as("text/markdown; charset=utf-8", "md") { |report| Northdrift::Cases::Markdown.write(report) }
        end

        get "/:id/report.html" do
          as("text/html; charset=utf-8", "html") { |report| CaseReport::Html.write(report) }
        end

        get "/:id/report.pdf" do
          as("application/pdf", "pdf") { |report| CaseReport::Pdf.write(report) }
        end

        undoable Store::Case

        private

        def found = Store::Case.present.find(params["id"])

        def present(one) = Present::Cases.a_case(one)

        def whole_case(one)
          Present::Cases.a_case(one).merge("timeline" => one.pins.map { |pin| Present::Cases.pin(pin) })
        end

        def change_status(one, status)
          unless Northdrift::Cases::Report::STATUS.key?(status)
            raise BadParameter.new("status", "a case is open or closed")
          end

          one.status = status
          one.closed_us = status == "closed" ? now_us : nil
        end

        def whole(object, name)
          value = object[name]
          raise BadParameter.new(name, "#{name} is a moment in microseconds") unless value.nil? || value.is_a?(Integer)

          value
        end

        # @return [Hash] attributes of a pin
        def pinned(object)
          case object["kind"]
          when "line"
            (event = line(object)) && Store::Pin.of_line(event, Store::Source.find(event.source_id))
          when "happening"
            Store::Pin.of_happening(
              Store::Happenings.find(object["id"].to_i) ||
                problem(404, "not-found", "this is not in the logbook any more")
            )
          when "pattern"
            Store::Pin.of_pattern(pattern(object), question)
          when "chart"
            Store::Pin.of_chart(question, required(object, "text"), string(object, "query"))
          when "note"
            Store::Pin.of_note(whole(object, "at_us") || now_us, required(object, "text"))
          else
            raise BadParameter.new("kind", "what is pinned is one of #{Northdrift::Cases::Report::KINDS.join(', ')}")
          end
        end

        def line(object)
          Store::Events.find(object["id"].to_i) || problem(404, "not-found", "this line is not there any more")
        end

        def pattern(object)
          name = required(object, "pattern")
          id = Store::KnownPatterns.id(name) if name.match?(Find::Parser::PATTERN)
          if id && Store::KnownPatterns.current.text(id)
            id
          else
            problem(404, "not-found", "there is no pattern of this name")
          end
        end

        def as(type, ending)
          one = found
          content_type type
          attachment "case-#{one.id}.#{ending}"
          yield one.report(now_us)
        end
      end
    end
  end
end
