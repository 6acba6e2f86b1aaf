# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # Whoever made the record.
      class Creator < Way
        def self.words = "who made the record"
        def pick(facts) = facts.after["creator"]
        def described = "who made the #{@kind.label.downcase}"
      end
    end
  end
end
