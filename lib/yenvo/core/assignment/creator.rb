# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # Whoever made the record.
      class Creator < RecordPerson
        def self.words = "who made the record"
        def nobody = "nobody is known to have made the #{noun}"
        def described = "who made the #{noun}"

        private

        def key = "creator"
      end
    end
  end
end
