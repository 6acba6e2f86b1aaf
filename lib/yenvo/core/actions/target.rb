# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Which record an action is about: the record of the rule ("record"), one it leads to ("boat_owner"), or one that
      # an earlier action of the row made ("made.2").
      class Target
        attr_reader :kind, :needs

        # @return [Target, nil]
        def self.bind(of, kind, schema, place, problems)
          # The record of a task may be of any kind.
          return new(kind.task? ? schema.subject("record") : kind, [], nil, schema) if of.nil? || of == "record"
          return made(of, place, problems, schema) if of.start_with?("made.")

          reference, wrong = Reference.find(of, kind, schema)
          field = reference&.field
          wrong ||= "must lead to a record; #{reference.label} is no link" unless field&.type == "link"
          at = schema.subject(field.links_to) unless wrong
          wrong ||= "must lead to records of one kind" unless at
          return problems.push(Problem.at([*place.path, "of"], wrong)) && nil if wrong

          link = Need.new(chain: [*reference.links, field].map(&:key), over: nil)
          new(at, [*reference.needs, link], reference, schema)
        end

        def self.made(of, place, problems, schema)
          number = of.delete_prefix("made.").to_i
          kind = place.made[number]
          if kind
            new(kind, [], number, schema)
          else
            problems.push(
              Problem.at(
                [*place.path, "of"], "must name an earlier action of this branch that makes a record, such as made.1"
              )
            ) && nil
          end
        end
        private_class_method :made

        # @param way [Reference, Integer, nil] how it is found; nil for the record itself
        def initialize(kind, needs, way, schema)
          @named = !schema.hides?
          @kind = kind
          @needs = needs
          @way = way
          @get = way.getter if way.is_a?(Reference)
        end

        def own? = @way.nil?

        # @return [Integer, Array(Symbol, Integer), nil] id (0 for the record itself before it has one) of a record,
        #   [:made, number of the action], or nil where the link is empty
        def find(facts)
          return own(facts.event) if own?

          @get ? @get.call(facts) : [:made, @way]
        end

        # @return [Boolean] whether what is done to it may be said where its own record is read
        def told? = own? || @named

        # Where records are hidden from some, none is named where another is read.
        # @return [String] such as " of Aldo Ferrant", empty for the record itself
        def words(facts)
          return "" if own?
          return " of what action #{@way} makes" unless @get

          " of #{(facts.titles[@get.call(facts)] if @named) || @way.label}"
        end

        # @return [String] why there is nothing to act on
        def missing = @way ? "#{@way.label} is empty" : "the task is about no record"

        private

        def own(event) = event.record_id || (0 unless event.kind == Schema::Subjects::TASK)
      end
    end
  end
end
