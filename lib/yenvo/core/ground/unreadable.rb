# frozen_string_literal: true

module Yenvo
  module Core
    # A value that a field cannot hold. The message is a sentence to stand at the field.
    class Unreadable < Error
    end
  end
end
