# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # Whoever owns the rule at the time. A kit has no rule.
      class RuleOwner < Way
        def self.words = "the rule's owner"
        def self.of_rules? = true
        def pick(facts) = facts.rule && facts.desk&.owner_of(facts.rule)
        def nobody = "the rule has no owner"
        def described = "the rule's owner"
      end
    end
  end
end
