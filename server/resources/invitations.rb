# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Choosing a password by a link that an administrator gave. What the link has stands in no address, and so in no
      # log of a server on the way.
      class Invitations < Resource
        post "/" do
          json("name" => invitation(carried).person.name)
        end

        put "/" do
          object = carried
          person = invitation(object).person
          person.choose_password(checked("password", object.fetch("password", "")))
          json("name" => person.name)
        end

        private

        def invitation(object)
          Store::Invitation.of(required(object, "secret")) or
            problem(404, "no-invitation",
                    "this link was used, or is older than three days; ask an administrator for another")
        end
      end
    end
  end
end
