# frozen_string_literal: true

module Yenvo
  module Core
    module Receivers
      # All who are in a team.
      class WholeTeam < Assignment::Way
        def self.takes = {"team" => :team}
        def self.words = "all of a team"

        def check(path, problems)
          return if @schema.teams.key?(settings["team"])

          known = @schema.teams.keys.join(", ")
          sentence = "must name a team (#{known}); there is no #{Show.quoted(settings["team"])}"
          problems << Problem.at([*path, "team"], sentence)
        end

        # @return [Array<String, nil>] keys of its members; nil for none
        def members = keys.any? ? keys : [nil]
        def described = @schema.teams[settings["team"]]
        def nobody = "nobody is in #{described}"

        private

        def keys = @keys ||= @schema.people_of(settings["team"]).select(&:at_work?).map(&:key)
      end
    end
  end
end
