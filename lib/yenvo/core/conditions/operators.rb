# frozen_string_literal: true

module Yenvo
  module Core
    # What a condition can ask of a value. One class per file; all of them by their name in rule files.
    module Operators
      # @return [Registry] an operator object by name
      def self.all
        @all ||=
          Registry.new(
            "test",
            [
              Is, IsNot, IsOneOf, IsNoneOf, Contains, DoesNotContain, BeginsWith, EndsWith, IsEmpty, IsFilledIn, More,
              Less, AtLeast, AtMost, Between, Before, After, WithinLast, WithinNext, MoreThanAgo, MoreThanAhead,
              Changed, ChangedFrom, ChangedTo, Was
            ].to_h { |operator| [operator.name_in_files, operator.new] }
          )
      end
    end
  end
end
