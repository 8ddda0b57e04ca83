# frozen_string_literal: true

module Northdrift
  module Server
    module Access
      # Which requests the audit trail tells of: changes, logins, what was refused, and what leaves as a file.
      module Audit
        SAFE = %w[GET HEAD].freeze
        # They compute, and change nothing.
        QUIET = [
          %r{/trial\z}, %r{\APOST /api/parsers/draft\z}, %r{\APOST /api/invitations\z}, %r{\ADELETE /api/exports/}
        ].freeze
        FILES = [%r{\AGET /api/exports/\{id\}/file\z}, %r{/report\.\w+\z}, %r{/table\.\w+\z}, %r{/text\z}].freeze
        # Whose login or logout it is, in the environment of a request.
        NAME = "northdrift.name"
        LOGINS = ["POST /api/session", "GET /api/session/provider/back"].freeze
        ALONE = "(this computer)"
        NOBODY = "(not logged in)"

        module_function

        # @param request [Rack::Request]
        # @param who [Who] after the request: who has just logged in is somebody
        # @param route [String, nil] nil where none was met
        # @param status [Integer]
        # @param changes [Array<Hash>]
        def note(request, who, route, status, changes)
          return unless route && told?(route, status)

          Store::AuditTrail.append(
            who: name(who), address: request.get_header("REMOTE_ADDR"), action: route,
            target: Text.display(request.env[NAME] || request.path)[0, 500], outcome: status,
            changes: changes
          )
        end

        # @return [Boolean]
        def told?(route, status)
          return true if status == 403 || LOGINS.include?(route)
          return false if status == 401 || QUIET.any? { |quiet| quiet.match?(route) }

          SAFE.include?(route.split.first) ? FILES.any? { |file| file.match?(route) } : status < 400
        end

        # @return [String]
        def name(who)
          who.name || (who == Who::ALONE ? ALONE : NOBODY)
        end
      end
    end
  end
end
