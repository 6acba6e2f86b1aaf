# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # The base of ways that choose among the members of a team.
      class TeamWay < Way
        def self.takes = {"team" => :team}

        def check(path, problems)
          return if @schema.teams.key?(settings["team"])

          problems << Problem.at(
            [*path, "team"],
            "must name a team (#{@schema.teams.keys.join(", ")}); there is no #{Show.quoted(settings["team"])}"
          )
        end

        def team = settings["team"]
        def pick(facts) = candidates(facts).first&.first
        def nobody = "nobody is in #{team_name}"

        private

        def team_name = @schema.teams[team]
        def desk(facts) = facts.desk_for(@schema)
      end
    end
  end
end
