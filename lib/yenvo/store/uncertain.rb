# frozen_string_literal: true

module Yenvo
  module Store
    # The database went away while it was committing: what was done may have been kept or not. Its +cause+ says how.
    class Uncertain < StandardError; end
  end
end
