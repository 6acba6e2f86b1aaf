# frozen_string_literal: true

module Yenvo
  module Web
    # Who is signed in, and the token that changing calls must carry.
    class Sessions < Base
      get "/?" do
        demo =
          (
            if house.demo?
              root.people.all.select { |one| one[:active] }
                .map { |one| {**one.slice(:email, :name, :role)} }
            else
              []
            end
          )
        answer 200,
          {
            csrf: Forgery.token_for(env["rack.session"]), house: root.setup_store.house_name,
            open: !person.nil? || root.opening.open?, person: person && present.person(person),
            may: {write_rules: !person.nil? && may.write_rules?, lead: !person.nil? && may.lead?},
            missing_step: env["yenvo.missing_step"], demo:, demo_password: house.demo? ? Settings::DEMO_PASSWORD : nil
          }
      end
    end
  end
end
