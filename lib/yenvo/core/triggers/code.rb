# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # A code such as !haul is typed in a note (see Codes), perhaps only by some: persons, members of teams, or whoever
      # stands in a person field of the record.
      class Code < Trigger
        def self.takes = {"code" => :code, "persons" => :persons, "teams" => :teams, "roles" => :person_fields}
        def self.needs = ["code"]
        def self.short = "code"
        def self.words = "has a code typed in a note"

        def what = "interaction_logged"
        def code = settings["code"].to_s
        def watch_keys = [["code", code]]
        def sample_detail = {"way" => "note", "text" => code}

        def check(problems)
          unless Codes::FORM.match?(code)
            problems << Problem.at(
              %w[trigger code],
              "must begin with ! and go on with letters and digits, such as !haul; #{code[0, 40].inspect} does not"
            )
          end
          check_known("persons", schema.people.transform_values(&:name), "persons", problems)
          check_known("teams", schema.teams, "teams", problems)
          check_known("roles", person_fields, "person fields of a #{kind.noun}", problems)
        end

        def to_proc
          wanted = code
          ->(facts) { facts.event.codes.include?(wanted) && allowed?(facts) }
        end

        def sentence
          who = [
            labels("persons", schema.people.transform_values(&:name)), labels("teams", schema.teams),
            labels("roles", person_fields)
          ].compact
          ["#{code} in a note", who.any? ? "by #{who.join(" or ")}" : nil].compact.join(" ")
        end

        def imagine(image) = [image, image]

        def sample_who(image)
          some("persons")&.first || some("roles")&.filter_map { |field| image[field] }&.first ||
            some("teams")
              &.filter_map do |team|
                schema.people.each_value.find { |person| person.active && person.in?(team) }&.key
              end
              &.first
        end

        def miss(facts)
          return "#{schema.name_of(facts.event.who)} may not start it by #{code}" if facts.event.codes.include?(code)
          return "The note has no #{code} of its own" if %w[interaction_logged note_edited].include?(facts.event.what)

          "No note was written"
        end

        private

        def person_fields =
          kind.fields.values.filter_map { |field| [field.key, field.label] if field.type == "person" }.to_h

        def allowed?(facts)
          persons, teams, roles = some("persons"), some("teams"), some("roles")
          return true unless persons || teams || roles

          who = facts.event.who or return false
          persons&.include?(who) || teams&.any? { |team| schema.person(who)&.in?(team) } ||
            roles&.any? { |field| facts.after[field] == who } || false
        end
      end
    end
  end
end
