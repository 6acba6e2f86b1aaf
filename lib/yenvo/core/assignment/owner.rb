# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # The owner of the record.
      class Owner < Way
        def self.words = "the owner"
        def pick(facts) = facts.after["owner"]
        def nobody = "the #{@kind.label.downcase} has no owner"
        def described = "the #{@kind.label.downcase} owner"
      end
    end
  end
end
