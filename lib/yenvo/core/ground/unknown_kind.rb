# frozen_string_literal: true

module Yenvo
  module Core
    # A kind of record that is not there, such as a list that was taken away.
    class UnknownKind < Error; end
  end
end
