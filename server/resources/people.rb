# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # Who may log in, and what they may do.
      class People < Resource
        error(Store::Person::Unfit, Store::Sight::Unfit) { |error| problem(422, "unfit-person", error.message) }

        get "/" do
          seen = Store::Session.live.group(:person_id).maximum(:seen_us)
          json("people" => Store::Person.includes(:teams).order(:key).map { |person| present(person, seen[person.id]) })
        end

        # Somebody new, who chooses a password by the link.
        post "/" do
          if who == Access::Who::ALONE
            problem(409, "no-administrator", "add the first administrator on this computer: bin/northdrift person add")
          end
          object = carried
          person = Store::Person.add(string(object, "name"), role: string(object, "role"),
                                                             sight: string(object, "sight"))
          status 201
          json(invited(person))
        end

        # Another role, where they are told, what they see, whether they may log in; and their second factor is turned
        # off, where it is lost.
        patch "/:id" do
          object = carried
          person = Store::Person.find(params["id"])
          person.take_role(string(object, "role")) if object.key?("role")
          person.take_sight(string(object, "sight")) if object.key?("sight")
          person.take_mail(string(object, "mail")) if object.key?("mail")
          person.factor.end if object["factor"] == false
          if [true, false].include?(object["disabled"])
            object["disabled"] ? person.disable : person.enable
          end
          json(present(person))
        end

        # A link for who has forgotten the password.
        post "/:id/invitation" do
          json(invited(Store::Person.enabled.find(params["id"])))
        end

        private

        def invited(person) = present(person).merge("secret" => Store::Invitation.make(person))

        def present(person, seen_us = nil)
          {
            "id" => person.id, "name" => person.name, "role" => person.role, "mail" => person.mail,
            "sight" => person.sight,
            "own_sight" => person.own_sight, "teams" => person.teams.map(&:name),
            "factor" => person.factor.on?, "provider" => !person.subject.nil?,
            "disabled" => !person.disabled_us.nil?,
            "password" => !person.password_digest.nil?, "seen_us" => seen_us
          }
        end
      end
    end
  end
end
