# frozen_string_literal: true

module Yenvo
  module Web
    # What records can hold, who is here, and what rules are made of; and, for administrators, changes of it.
    class Setups < Base
      get("/?") { answer 200, present.setup }

      post "/fields" do
        may.set_up!
        answer 201, {key: changes.field(body_of_call["kind"], nil, body_of_call["field"], cause:), setup: fresh}
      end

      put "/fields" do
        may.set_up!
        answer 200,
          {
            key: changes.field(body_of_call["kind"], body_of_call["key"], body_of_call["field"], cause:),
            setup: fresh
          }
      end

      delete "/fields" do
        may.set_up!
        changes.remove_field(
          body_of_call["kind"], body_of_call["key"], anyway: body_of_call["anyway"] == true, cause:
        )
        answer 200, {key: body_of_call["key"], setup: fresh}
      end

      put "/field-order" do
        may.set_up!
        changes.order_fields(body_of_call["kind"], body_of_call["keys"], cause:)
        answer 200, {key: body_of_call["kind"], setup: fresh}
      end

      # Fields of a kind that were taken away, and bringing one back with what records hold in it.
      get "/removed" do
        may.set_up!
        answer 200,
          {
            fields:
              root.setup_store.removed_fields(params["kind"])
                .map { |row|
                  {
                    **row.slice(:key, :label, :type),
                    removed_at: Core::Reading.moment(row[:removed_at])
                  }
                }
          }
      end

      post "/removed" do
        may.set_up!
        changes.bring_back(body_of_call["kind"], body_of_call["key"], cause:)
        answer 200, {key: body_of_call["key"], setup: fresh}
      end

      put "/stages" do
        may.set_up!
        changes.stages(
          body_of_call["kind"], body_of_call["stages"], anyway: body_of_call["anyway"] == true, cause:
        )
        answer 200, {key: body_of_call["kind"], setup: fresh}
      end

      post "/lists" do
        may.set_up!
        answer 201, {key: changes.list(body_of_call, cause:), setup: fresh}
      end

      put "/lists" do
        may.set_up!
        changes.change_kind(body_of_call["kind"], body_of_call.except("kind"), cause:)
        answer 200, {key: body_of_call["kind"], setup: fresh}
      end

      delete "/lists" do
        may.set_up!
        changes.remove_list(body_of_call["kind"], anyway: body_of_call["anyway"] == true, cause:)
        answer 200, {key: body_of_call["kind"], setup: fresh}
      end

      # Lists that were taken away, and bringing one back.
      get "/removed-lists" do
        may.set_up!
        answer 200,
          {
            lists:
              root.setup_store.removed_lists.map { |row|
                {key: row[:key], plural: row[:plural], removed_at: Core::Reading.moment(row[:removed_at])}
              }
          }
      end

      post "/removed-lists" do
        may.set_up!
        changes.bring_list_back(body_of_call["kind"], cause:)
        answer 200, {key: body_of_call["kind"], setup: fresh}
      end

      post "/persons" do
        may.set_up!
        key = changes.person(nil, body_of_call["person"], cause:)
        path, mailed = link(key, INVITED, invited: true)
        answer 201, {key:, link: path, mailed:, setup: fresh}
      end

      put "/persons" do
        may.set_up!
        answer 200, {key: changes.person(body_of_call["key"], body_of_call["person"], cause:), setup: fresh}
      end

      # A link for somebody who has forgotten their password, or whose invitation is too old.
      post "/links" do
        may.set_up!
        key = body_of_call["person"]
        invited = root.people.invited.include?(key)
        path, mailed = link(key, invited ? INVITED : FORGOTTEN, invited:)
        answer 201, {link: path, mailed:, invited:}
      end

      # Which roles must have a second step at sign-in.
      put "/second-step" do
        may.set_up!
        changes.second_step(body_of_call["roles"], cause:)
        answer 200, {key: "second_step", setup: fresh}
      end

      # Takes somebody's second step away, who has lost what they do it with.
      delete "/second-step" do
        may.set_up!
        changes.end_second_step(body_of_call["person"], cause:)
        answer 200, {key: body_of_call["person"], setup: fresh}
      end

      get("/uses") { answer 200, {rules: uses.of(params["of"])} }

      get("/watching") { answer 200, {stages: uses.watching_stages(params["kind"])} }

      post "/formula" do
        type =
          root.schema.kind(body_of_call["kind"]) ||
          raise(Store::NotFound, "There is no kind of record #{body_of_call["kind"].inspect}.")
        problems = []
        formula =
          Core::Formula.bind(
            body_of_call["formula"].delete_prefix("="), type, root.schema, type: body_of_call["type"],
            problems:
          )
        answer 200, {problems: problems.map(&:text), type: formula&.type}
      end

      # Seconds for which links are good: of an invitation, and for a password that was forgotten.
      INVITED = 7 * 86_400
      FORGOTTEN = 3_600

      private

      # @return [Array(String, Boolean)] path of a one-time link, and whether it goes by mail
      # @raise [Store::NotFound, Store::Refused]
      def link(key, seconds, invited:)
        one = root.people.find(key) || raise(Store::NotFound, "There is no person #{key.inspect}.")
        raise Store::Refused.at("person" => "#{one[:name]} has left, so no link lets them in.") unless one[:active]
        raise Store::Refused.at("person" => "#{one[:name]} is a program and signs in nowhere.") if one[:program]

        words = "made a link with which #{one[:name]} chooses a password"
        root.transaction do
          root.audit.note("sign_in", words, who: person[:key], at: now, about: "people #{key}")
          path = SignIn.link(house.sign_in, one[:email], seconds)
          [path, Store::HouseMail.new(root, house.settings).link(one, path, invited:, cause:)]
        end
      end

      def changes = Store::SetupChanges.new(root, seen:)
      def uses = Store::RuleUses.new(root)

      # The set-up as it is after the change.
      def fresh = Present.new(root, now:, person:).setup
    end
  end
end
