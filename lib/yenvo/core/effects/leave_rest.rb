# frozen_string_literal: true

module Yenvo
  module Core
    module Effects
      # Leaves the rest of the row for later. until_at: Time at which it is looked again.
      LeaveRest = Effects.define(:leave_rest, :until_at)
    end
  end
end
