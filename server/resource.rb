# frozen_string_literal: true

require "oj"
require "sinatra/base"

module Northdrift
  module Server
    # What all resources share: JSON out, problem details (RFC 9457) for what went wrong, and the question that a
    # request's parameters ask.
    class Resource < Sinatra::Base
      PROBLEM = "application/problem+json"
      MOST_BINS = 400
      MOST_LINES = 1000
      MOST_BODY = 100_000
      # Parameters that may be given more than once.
      LISTS = %w[chip follow shift].freeze

      disable :show_exceptions, :raise_errors, :dump_errors, :static, :protection
      set :host_authorization, permitted_hosts: []

      # A parameter that cannot be understood.
      class BadParameter < Error
        attr_reader :parameter

        def initialize(parameter, message)
          super(message)
          @parameter = parameter
        end
      end

      before do
        Store::Changes.start(who.name)
        content_type "application/json"
        # What somebody may see is nothing for the next who sits there (RFC 9111, section 5.2.2.5).
        headers "cache-control" => "no-store"
        not_found unless text?(Rack::Utils.unescape_path(request.path_info))
        request.GET.each do |name, value|
          if value.is_a?(LISTS.include?(name) ? Hash : Enumerable)
            raise BadParameter.new(name, "#{Text.display(name)} is given once, as a text")
          end
          unless [name, *value].all? { |text| text?(text) }
            raise BadParameter.new(Text.display(name), "#{Text.display(name)} is no text in UTF-8")
          end
        end
      end

      error Measure::Clause::Mistake do |mistake|
        problem(
          422, "mistake-in-measure", mistake.message,
          "column" => mistake.column, "length" => mistake.length, "suggestion" => mistake.suggestion,
          "text" => params["measure"].to_s
        )
      end

      error Find::Mistake do |mistake|
        problem(
          422, "mistake-in-find-text", mistake.message,
          "column" => mistake.column, "length" => mistake.length, "suggestion" => mistake.suggestion,
          "text" => params["find"].to_s
        )
      end

      error(BadParameter) { |error| problem(400, "bad-parameter", error.message, "parameter" => error.parameter) }
      error(Store::Question::NoComparison) do |error|
        problem(400, "bad-parameter", error.message, "parameter" => "with")
      end
      error(Windows::Words::Unclear) { |error| problem(422, "unclear-time", error.message) }
      error(ActiveRecord::RecordNotFound) { problem(404, "not-found", "there is no such thing any more") }
      error(Error) { |error| problem(422, "not-possible", error.message) }
      error(SQLite3::BusyException) { problem(503, "busy", "the database is busy; try again in a moment") }
      not_found { problem(404, "not-found", "there is nothing at #{request.path_info}") if response.body.empty? }

      error do |error|
        warn error.full_message(highlight: false)
        problem(500, "internal", "something went wrong inside; the log of the server says what")
      end

      after { Access::Audit.note(request, who, @route, response.status, Store::Changes.finish) }

      # Nobody does what the table does not let them, see {Access::Routes}; the pattern that was met says which route it
      # is, so that no address can be read in two ways.
      set(:route_pattern) do |verb, pattern|
        condition { allow(Access::Routes.name(verb, request.script_name, pattern)) }
      end

      def self.route(verb, path, options = {}, &)
        super(verb, path, options.merge(route_pattern: [verb, path]), &)
      end
      private_class_method :route

      # Routes for things whose deletion can be undone: they stay, with the moment they were deleted.
      # @param model [Class] with `deleted_us`; the resource has `present` for one of it
      # @param changes [Hash] further attributes that are set when it is had back
      # @yieldparam one what is to be had back; the block may refuse it
      def self.undoable(model, **changes, &look)
        delete "/:id" do
          json(present(model.where(deleted_us: nil).find(params["id"]).tap { |one| one.update!(deleted_us: now_us) }))
        end

        post "/:id/restored" do
          one = model.find(params["id"])
          instance_exec(one, &look) if look
          one.update!(deleted_us: nil, **changes)
          json(present(one))
        end
      end

      # Seconds after which an answer so far is sent, and then again each.
      SOON = 0.4
      # Time of work to time of telling.
      TELLING = 10

      private

      # Tells what a survey has found: JSON objects, one a line, each with the share of the work that is done and the
      # answer so far. Who closes the connection stops it.
      # @param survey [Store::Survey]
      # @yieldreturn [Hash] the answer
      def survey(survey, &answer)
        content_type "application/x-ndjson"
        stream do |out|
          started = clock
          due = started + SOON
          survey.count do
            raise Gone if gone?
            next if survey.done >= 1 || clock < due

            began = clock
            out << part(survey, started, &answer)
            # Telling must not take more than a part of the time.
            due = clock + [SOON, (clock - began) * TELLING].max
          end
          out << part(survey, started, &answer)
        rescue Gone
          nil
        rescue StandardError => error
          out << (json("problem" => cut_short(error)) << "\n")
        ensure
          ActiveRecord::Base.connection_handler.clear_active_connections!
        end
      end

      Gone = Class.new(Error)

      # @return [Access::Who]
      def who = env.fetch(Access::Who::KEY, Access::Who::NOBODY)

      # For what needs more than its route.
      # @param least [String] role
      def allow_role(least)
        return if People::Role.enough?(who.role, least)

        problem(403, "not-allowed", "needs the #{least} role; yours is #{who.role}")
      end

      # @param route [String]
      # @return [true]
      def allow(route)
        @route = route
        return true if who.may?(route)

        least = Access::Routes.least(route)
        problem(401, "not-logged-in", "log in first") if least && who.role.nil?
        problem(403, "not-allowed", refusal(least))
      end

      def refusal(least)
        return "this is for those who may see everything" if who.sight && Access::Routes::WHOLE.include?(@route)

        case least
        when nil then "nobody may do this"
        when Access::Routes::SELF then "this is for people who have logged in"
        else "needs the #{least} role; yours is #{who.role}"
        end
      end

      # What is told when an answer has begun already and cannot be ended.
      def cut_short(error)
        warn error.full_message(highlight: false) unless error.is_a?(Error)
        {
          "type" => "/problems/cut-short", "title" => "Cut short", "status" => 503,
          "detail" => error.is_a?(Error) ? error.message : "the answer was cut short; the log of the server says why"
        }
      end

      def part(survey, started)
        sides = {
          "from_us" => survey.question.from_us, "to_us" => survey.question.to_us,
          "against_from_us" => survey.against&.from_us, "against_to_us" => survey.against&.to_us
        }
        json(
          "done" => survey.done.round(3),
          "answer" => yield.merge(sides, "milliseconds" => ((clock - started) * 1000).round(1))
        ) << "\n"
      end

      def clock = Process.clock_gettime(Process::CLOCK_MONOTONIC)

      # @return [Store::Question, nil] what the question is compared with
      def against(asked) = params["with"].to_s.empty? ? nil : asked.compared_with(text("with"))

      # @return [Boolean] whether the connection was closed at its other end
      def gone?
        socket = env["puma.socket"]&.to_io
        !socket.nil? && socket.recv_nonblock(1, Socket::MSG_PEEK, exception: false) == ""
      rescue IOError, SystemCallError
        true
      end

      def json(object) = Oj.dump(object, mode: :strict)

      def problem(status, type, detail, more = {})
        content_type PROBLEM
        halt status,
             json(
               {
                 "type" => "/problems/#{type}", "title" => Rack::Utils::HTTP_STATUS_CODES[status], "status" => status,
                 "detail" => detail
               }.merge(more.compact)
             )
      end

      # @return [Integer, nil] id of the team that something is saved for; nil: everybody
      def team(wanted)
        id = wanted["team"] or return
        mine = who.teams
        return id if id.is_a?(Integer) && (mine ? mine.include?(id) : Store::Team.exists?(id: id))

        raise BadParameter.new("team", "what you save belongs to everybody, or to a team that you are in")
      end

      # @return [Store::Question]
      def question
        Store::Question.new(
          find: text("find"), chips: [*Array(params["chip"]).map { |chip| checked("chip", chip) }, *scope, *noise],
          from_us: time("from"), to_us: time("to"), hidden: hidden
        )
      end

      # @return [Array<String>] the condition of the scope that is on
      def scope
        return [] if params["scope"].to_s.empty?

        scope = Store::Scope.find_by(name: text("scope")) or
          raise BadParameter.new("scope", "there is no scope “#{Text.display(params['scope'])}” any more")
        [scope.find]
      end

      # @return [Array<String>] conditions of the rules that hide lines, unless these are wanted too
      def noise = params["noise"] == "shown" ? [] : Store::NoiseRule.hiding(now_us)

      # @param most [Integer] bytes
      # @return [String] the body of the request
      def sent(most)
        text = request.body.read(most + 1).to_s
        return text if text.bytesize <= most

        problem(413, "too-large", "the request may carry #{most} bytes; it has more")
      end

      # @return [Hash] the JSON object that a request carries
      def carried
        text = sent(MOST_BODY)
        raise BadParameter.new("body", "the request is no text in UTF-8") unless text?(text)

        object = Oj.load(text, mode: :strict)
        object.is_a?(Hash) ? object : raise(BadParameter.new("body", "the request must carry a JSON object"))
      rescue Oj::ParseError, EncodingError
        # A form was read as one before.
        raise BadParameter.new(
          "body", "the request must carry a JSON object#{', sent as application/json' if request.form_data?}"
        )
      end

      def string(object, name) = checked(name, object.fetch(name, "")).strip

      def required(object, name)
        value = string(object, name)
        value.empty? ? raise(BadParameter.new(name, "#{name} is missing")) : value
      end

      def now_us = Store::Clock.now_us

      def text(name) = checked(name, params[name] || "")

      # @return [Boolean] whether it is one in UTF-8; what is no text at all is judged elsewhere
      def text?(value) = !value.is_a?(String) || value.dup.force_encoding(Encoding::UTF_8).valid_encoding?

      def checked(name, value)
        raise BadParameter.new(name, "#{name} is no text in UTF-8") unless value.is_a?(String) && text?(value)
        raise BadParameter.new(name, "#{name} is longer than 10,000 characters") if value.length > 10_000

        value
      end

      # Microseconds since 1970.
      # As far as JavaScript's numbers are exact: 2255.
      def time(name) = integer(name, -(1 << 53)..(1 << 53), nil)

      # @return [Array(Integer, Integer)] microseconds; nil where that is not said
      def window = %w[from to].map { |name| Integer(text(name), exception: false) }

      # @param rows [ActiveRecord::Relation] that have a time in which they began, and `last_us`
      # @return [ActiveRecord::Relation] those that lasted within the window that is asked for
      def in_window(rows, begins: "from_us")
        from, to = window
        rows = rows.where(last_us: from..) if from
        to ? rows.where(begins => ...to) : rows
      end

      def integer(name, range, default)
        value = params[name]
        return default if value.nil? || value == ""

        number = Integer(value, exception: false) if value.is_a?(String)
        unless number && range.cover?(number)
          raise BadParameter.new(name, "#{name} must be a whole number from #{range.begin} to #{range.end}")
        end

        number
      end

      def choice(name, allowed, default)
        value = params[name] || default
        raise BadParameter.new(name, "#{name} must be one of #{allowed.join(', ')}") unless allowed.include?(value)

        value
      end

      def hidden = hidden_of(params["hide"])

      # @param names [String, nil] of severities
      # @return [Array<Integer>]
      def hidden_of(names)
        names.to_s.split(",").map do |name|
          Severity::NAMES.index(name) || raise(BadParameter.new("hide", "there is no severity “#{Text.display(name)}”"))
        end
      end
    end
  end
end
