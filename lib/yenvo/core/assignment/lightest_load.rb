# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # Whoever of a team has the least to do against the hours they work (see Load).
      class LightestLoad < TeamWay
        def self.words = "lightest load in a team"

        def candidates(facts)
          all = desk(facts).by_load(team)
          all.map { |person, load| [person, "load #{Show.number(load)}#{others(all, person)}"] }
        end

        def took(facts, person) = desk(facts).took(:load, team, person, more: Load::ONE)
        def described = "lightest load in #{team_name}"

        private

        def others(all, person)
          next_one = all.find { |other, _| other != person }
          next_one ? ", #{@schema.name_of(next_one[0])} #{Show.number(next_one[1])}" : ""
        end
      end
    end
  end
end
