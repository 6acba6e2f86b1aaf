# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # Several persons, named or standing in person fields; each gets a task of their own.
      class Several < Way
        MAX = 20
        def self.takes = {"persons" => :persons, "fields" => :paths}
        def self.words = "several persons, one each"

        def check(path, problems)
          if persons.empty? && fields.empty?
            problems << Problem.at(path, "must name at least one person or person field")
          end
          if persons.size + fields.size > MAX
            problems << Problem.at(path, "must name at most #{MAX} persons and fields")
          end
          persons.each_with_index do |key, i|
            NamedPerson.new({"person" => key}, @kind, @schema).check([*path, "persons", i], problems)
          end
          fields.each_with_index do |field, i|
            PersonField.new({"field" => field}, @kind, @schema).check([*path, "fields", i], problems)
          end
        end

        def may_fail? = persons.empty?
        def references = ways.flat_map(&:references)
        def pick(facts) = ways.filter_map { |way| way.pick(facts) }.first
        def described = "one of several"
        def nobody = "none of the persons is known"

        # @return [Array<Way>] one for each
        def ways
          @ways ||=
            persons.map { |key| NamedPerson.new({"person" => key}, @kind, @schema) } +
            fields.map { |field| PersonField.new({"field" => field}, @kind, @schema) }
        end

        private

        def persons = Array(settings["persons"])
        def fields = Array(settings["fields"])
      end
    end
  end
end
