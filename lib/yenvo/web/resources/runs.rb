# frozen_string_literal: true

module Yenvo
  module Web
    # One run with all that it saw and did.
    class Runs < Base
      get "/:id" do
        run = sight.about([root.runs.find!(id)]).first
        answer 200, present.run(run || raise(Store::NotFound, "There is no run #{id}."))
      end
    end
  end
end
