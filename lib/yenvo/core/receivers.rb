# frozen_string_literal: true

module Yenvo
  module Core
    # Ways to say to whom a mail goes: persons, as for tasks, and whoever else has an address.
    module Receivers
      # The most that stand in one line of a mail, and addresses of a whole one.
      MOST_WRITTEN = 20
      MOST = 50

      PERSONS = %w[person owner creator field who_did_it task_assignee rule_owner].freeze

      # @return [Registry] a class by name
      def self.all
        @all ||=
          Registry.new(
            "way to say who gets a mail",
            {
              **PERSONS.to_h { |name| [name, Assignment.all.fetch(name)] },
              "team" => WholeTeam, "email" => EmailField, "address" => FixedAddress
            }
          )
      end

      # @param way [Assignment::Way] bound
      # @param whose [Array(Schema::Kind, String), nil] kind and owner of the record that persons have to see
      # @return [Array<Receiver>] those it comes up with, also such as are left out
      def self.of(way, facts, schema, whose)
        return way.receivers(facts) unless way.persons?

        persons = way.is_a?(WholeTeam) ? way.members : [way.pick(facts)]
        persons.map { |key| person(key, way, schema, whose) }
      end

      def self.person(key, way, schema, whose)
        one = key && schema.person(key)
        why = if one.nil?
          way.nobody
        elsif !one.at_work?
          "#{one.name} #{one.program ? "is a program" : "has left"}"
        elsif whose && !schema.access(key).may?(:seen_by, *whose)
          "#{one.name} may not see the #{whose[0].noun}"
        elsif !Receiver.good?(one.email)
          "#{one.name} has no e-mail address"
        end
        Receiver.new(name: one&.name || way.described, address: one&.email, person: key, why:)
      end
      private_class_method :person
    end
  end
end
