# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Server-sent events (HTML Living Standard, section 9.2) of all that a browser wants to hear of: one connection,
      # since browsers open few.
      class Events < Resource
        MOST_QUESTIONS = 20

        get "/" do
          streams = EventStreams.current
          if streams.full?
            headers "retry-after" => "10"
            problem(503, "too-many", "#{EventStreams::MOST} pages listen already; try again later")
          end

          topics = [Topics::News.new, *followed]
          content_type "text/event-stream"
          # The server hands the connection over, and answers others (Rack specification, response hijacking).
          headers "x-accel-buffering" => "no"
          listener = who
          headers "rack.hijack" => ->(io) { streams.add(io, topics, listener) } unless request.head?
          [].each # no body, and so no length of it
        end

        private

        # @return [Array<Topics::Follow>] of the questions that are followed, each given as its query
        def followed
          given = Array(params["follow"])
          if given.size > MOST_QUESTIONS
            raise BadParameter.new("follow", "no more than #{MOST_QUESTIONS} questions are followed at once")
          end

          given.each_with_index.filter_map { |query, at| topic(checked("follow", query), at) }
        end

        # One that cannot be asked keeps no other from being followed; who asks it is told by the answer to it.
        def topic(query, number)
          Topics::Follow.new(question_of(query), number)
        rescue Find::Mistake
          nil
        end

        def question_of(query)
          outer = @params
          @params = Sinatra::IndifferentHash.new.merge!(Rack::Utils.parse_nested_query(query))
          question
        rescue Rack::QueryParser::ParameterTypeError, Rack::QueryParser::InvalidParameterError
          raise BadParameter.new("follow", "a question to follow is no query")
        ensure
          @params = outer
        end
      end
    end
  end
end
