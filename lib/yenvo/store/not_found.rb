# frozen_string_literal: true

module Yenvo
  module Store
    # There is no such thing, or not for this person.
    class NotFound < Core::Error
    end
  end
end
