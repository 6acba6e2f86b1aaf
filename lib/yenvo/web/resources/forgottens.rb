# frozen_string_literal: true

module Yenvo
  module Web
    # Asking for a new password; the answer is always the same.
    class Forgottens < Base
      post "/?" do
        Store::Forgotten.new(root).ask(body_of_call["email"], now:)
        answer 200, {ok: true}
      end
    end
  end
end
