# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # Whoever made the record.
      class Creator < Way
        def self.words = "who made the record"
        def pick(facts) = facts.after["creator"]
        def nobody = "nobody is known to have made the #{@kind.label.downcase}"
        def described = "who made the #{@kind.label.downcase}"
      end
    end
  end
end
