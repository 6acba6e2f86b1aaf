# frozen_string_literal: true

module Yenvo
  module Store
    # Somebody else changed the same thing in the meantime. details[:conflicts] is an Array of Hashes with the field,
    # what was wanted, what stands there now, who set it and when.
    class Conflict < Core::Error
    end
  end
end
