# frozen_string_literal: true

module Yenvo
  module Web
    # Ready rules to begin from.
    class Patterns < Base
      get "/?" do
        answer 200, {groups: Core::Patterns::GROUPS, patterns: Core::Patterns.all.map { |one| present.pattern(one) }}
      end

      post "/?" do
        may.write_rules!
        pattern =
          Core::Patterns.find(body_of_call["key"]) ||
          raise(Store::NotFound, "There is no pattern #{body_of_call["key"].inspect}.")
        answer 201, present.rule(root.rules.make(fitting(pattern.rule), cause:))
      end

      private

      # A pattern for a list that is not there begins from the first list there is.
      def fitting(rule)
        return rule if root.schema.subject(rule.kind)

        list =
          root.schema.kinds.values.find(&:list) ||
          raise(Store::NotFound, "This pattern is for lists, and there is no list yet. Add one in the set-up first.")
        rule.with(kind: list.key)
      end
    end
  end
end
