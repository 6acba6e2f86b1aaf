# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # The members of a team one after the other; whoever has waited longest is next.
      class ByTurns < TeamWay
        def self.words = "by turns in a team"
        def candidates(facts) = desk(facts).by_turns(team).map { |person| [person, nil] }
        def took(facts, person) = desk(facts).took(:turns, team, person)
        def described = "by turns in #{team_name}"
      end
    end
  end
end
