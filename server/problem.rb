# frozen_string_literal: true

module Northdrift
  module Server
    # Answers that tell a program what is wrong (RFC 9457), of what stands outside of the resources.
    module Problem
      module_function

      # @param status [Integer] of HTTP
      # @param kind [String] what its type ends with
      # @param title [String]
      # @param detail [String] for a person
      # @return [Array] status, headers and body, as Rack has them
      def answer(status, kind, title, detail)
        body = { "type" => "/problems/#{kind}", "title" => title, "status" => status, "detail" => detail }
        [status, { "content-type" => Resource::PROBLEM }, [Oj.dump(body, mode: :strict)]]
      end

      # @param detail [String]
      def not_found(detail) = answer(404, "not-found", "Not Found", detail)
    end
  end
end
