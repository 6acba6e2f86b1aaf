# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # One person, by key.
      class NamedPerson < Way
        def self.takes = {"person" => :person}
        def self.may_fail? = false
        def self.words = "a named person"

        def check(path, problems)
          person = @schema.person(settings["person"])
          return if person&.active

          problems << Problem.at([*path, "person"], person ? "must be somebody who is still here; #{person.name} has left" : "must name a person; there is no #{Show.quoted(settings["person"])}")
        end

        def pick(_facts) = settings["person"]
        def described = "named in the rule"
      end
    end
  end
end
