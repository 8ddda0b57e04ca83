# frozen_string_literal: true

module Northdrift
  module Server
    module Resources
      # What programs ask with.
      class Tokens < Resource
        error(Store::Token::Unfit, Store::Person::Unfit, Store::Sight::Unfit) { |error| problem(422, "unfit-token", error.message) }

        get "/" do
          json("tokens" => Store::Token.order(:name, :id).map { |token| present(token) })
        end

        post "/" do
          object = carried
          days = object["days"]
          raise BadParameter.new("days", "days are a whole number") unless days.is_a?(Integer)

          token, secret = Store::Token.make(
            string(object, "name"), role: string(object, "role"), sight: string(object, "sight"), days: days,
                                    by: who.person&.name
          )
          status 201
          json(present(token).merge("secret" => secret))
        end

        delete "/:id" do
          Store::Token.find(params["id"]).destroy!
          json("tokens" => Store::Token.order(:name, :id).map { |token| present(token) })
        end

        private

        def present(token)
          token.attributes.slice("id", "name", "role", "sight", "made_by", "created_us", "expires_us", "used_us")
            .merge("expired" => token.expired?)
        end
      end
    end
  end
end
