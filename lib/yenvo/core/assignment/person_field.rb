# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # A person field of the record or of a linked one, such as surveyor or boat_owner.adviser.
      class PersonField < Way
        def self.takes = {"field" => :path}
        def self.words = "a person on the record"

        def check(path, problems)
          found, wrong = Reference.find(settings["field"], @kind, @schema)
          wrong ||= "must be a person field; #{found.label} is none" unless found&.field&.type == "person"
          problems << Problem.at([*path, "field"], wrong) if wrong
        end

        def pick(facts) = (@get ||= reference.getter).call(facts)
        def references = [reference].compact
        def described = reference.label
        def nobody = "#{reference.label} is empty"

        private

        def reference = @reference ||= Reference.find(settings["field"], @kind, @schema).first
      end
    end
  end
end
