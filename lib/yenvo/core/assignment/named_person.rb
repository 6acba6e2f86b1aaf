# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # One person, by key.
      class NamedPerson < Way
        def self.takes = {"person" => :person}
        def self.may_fail? = false
        def self.words = "a named person"

        # Somebody who has left is passed over like somebody who is away: a rule must not stop because one of those whom
        # it names has gone. The checks say so before it is published.
        def check(path, problems)
          return if @schema.person(settings["person"])

          problems << Problem.at(
            [*path, "person"], "must name a person; there is no #{Show.quoted(settings["person"])}"
          )
        end

        def pick(_facts) = settings["person"]
        def described = "named in the rule"
      end
    end
  end
end
