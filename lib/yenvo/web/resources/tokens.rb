# frozen_string_literal: true

module Yenvo
  module Web
    # All tokens, and those of programs, for administrators.
    class Tokens < Base
      before { may.set_up! }

      get("/?") { answer 200, {tokens: present.tokens(root.tokens.all)} }

      # For a program that there is, or for a new one.
      post "/?" do
        secret = nil
        root.transaction do
          key = program(body_of_call)
          secret = root.tokens.make(body_of_call["token"], key, cause:)
        end
        answer 201, {secret:, tokens: present.tokens(root.tokens.all)}
      end

      delete "/?" do
        root.tokens.finish(body_of_call["id"], cause:)
        answer 200, {tokens: present.tokens(root.tokens.all)}
      end

      private

      # @return [String] key of a person
      def program(given)
        return root.tokens.make_program(given["new_program"], cause:).tap { root.forget } if given["new_program"]

        one = root.people.find(given["program"].to_s)
        return one[:key] if one && one[:program] && one[:active]

        raise Store::Refused.at("program" => "Choose a program that there is, or name a new one.")
      end
    end
  end
end
