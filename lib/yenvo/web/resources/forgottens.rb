# frozen_string_literal: true

module Yenvo
  module Web
    # Asking for a new password; the answer is always the same.
    class Forgottens < Base
      post "/?" do
        mail = Store::HouseMail.new(root, house.settings)
        answer 200, {ok: true, mailed: Store::Forgotten.new(root).ask(body_of_call["email"], now:, mail:)}
      end
    end
  end
end
