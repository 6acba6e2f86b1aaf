# frozen_string_literal: true

module Yenvo
  module Core
    class Schema
      # Somebody who can own records and be given tasks. key: a short handle that never changes; active: false once
      # they have left; team: key of the team that their work counts for, or nil; teams: keys of all that they are in;
      # hours: what they work, in percent of the full hours; told: how they chose to
      # be told of what, by kind (see Telling); program: whether
      # it is a program, to which nothing is given to do; role: what they are in the house; email, phone: how they are
      # reached, nil where that is not known.
      Person =
        Value.define(:key, :name, :active, team: nil, teams: [], hours: 100, told: {}, program: false,
          role: "member", email: nil, phone: nil) do
          # @return [Boolean] whether it is somebody to whom work can be given
          def at_work? = active && !program

          # @param kind [String, nil] of Telling::KINDS
          # @return [String] how they are told of it, one of Telling::WAYS
          def told_by(kind) = told.fetch(kind) { Telling.usual(kind) }

          # @param way [String]
          # @return [Array<String>] kinds of which they are told so
          def kinds_told(way) = Telling::KINDS.keys.select { |kind| told_by(kind) == way }

          # @return [Boolean] whether the two are in one team
          def with?(other) = key == other.key || [*other.teams, *other.team].any? { |team| in?(team) }

          # @param key [String] of a team
          def in?(key) = team == key || teams.include?(key)
        end
    end
  end
end
