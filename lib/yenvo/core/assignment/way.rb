# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # The base of all ways to assign. +settings+ is what stands beside "to".
      class Way
        class << self
          # @return [Hash{String => Symbol}] settings it takes: name to :person, :path, :queue, :team, :persons or
          #   :paths (lists)
          def takes = {}

          # @return [Boolean] whether it may come up with nobody, so that a fallback is needed
          def may_fail? = true

          # @return [Boolean] whether it needs a rule, which a kit has not
          def of_rules? = false

          # @return [String] to choose by, such as "the owner"
          def words = raise(NotImplementedError)
        end

        attr_reader :settings

        # @return [Way, nil] nil when problems were found
        def self.bind(settings, kind, schema, path: [], problems: [])
          before = problems.size
          way = new(settings, kind, schema)
          way.check(path, problems)
          (problems.size == before) ? way : nil
        end

        def initialize(settings, kind, schema)
          @settings = settings
          @kind = kind
          @schema = schema
        end

        def check(path, problems) = nil

        # @return [Boolean] as for its kind, unless its settings say otherwise
        def may_fail? = self.class.may_fail?

        # @return [String, nil] key of a person
        def pick(facts) = raise(NotImplementedError)

        # @return [Array<Array(String, String)>] persons to be asked in this order, each with what there is to say, or
        #   nil
        def candidates(facts) = [[pick(facts), nil]]

        # Told when one of its candidates was chosen.
        def took(_facts, _person) = nil

        # @return [Array<Reference>] what it looks at
        def references = []

        # @return [String] such as "the deal owner", for the run
        def described = raise(NotImplementedError)

        # @return [String] why nobody came up
        def nobody = "there is no #{described}"

        # @return [Boolean] whether it comes up with persons of the house
        def persons? = true

        def queue = nil

        # @return [String, nil] why its queue does not take the task
        def refuses(_facts) = nil
      end
    end
  end
end
