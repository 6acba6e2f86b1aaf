# frozen_string_literal: true

module Yenvo
  module Web
    # One run with all that it saw and did.
    class Runs < Base
      get("/:id") { answer 200, present.run(root.runs.find!(id)) }
    end
  end
end
