# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # The owner of the record.
      class Owner < RecordPerson
        def self.words = "the owner"
        def nobody = "the #{noun} has no owner"
        def described = @kind.task? ? "the owner of its record" : "the #{noun} owner"

        private

        def key = "owner"
      end
    end
  end
end
