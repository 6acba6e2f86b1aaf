# frozen_string_literal: true

module Yenvo
  module Web
    # What records can hold, who is here, and what rules are made of.
    class Setups < Base
      get("/?") { answer 200, present.setup }
    end
  end
end
