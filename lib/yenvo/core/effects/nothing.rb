# frozen_string_literal: true

module Yenvo
  module Core
    module Effects
      # Only says why there is nothing to act on.
      Nothing = Effects.define(:nothing)
    end
  end
end
