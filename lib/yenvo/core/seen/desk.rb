# frozen_string_literal: true

module Yenvo
  module Core
    # Who stands where in the turns of each team, and how much each has to do. It is part of what a plan sees: whoever
    # makes plans brings one, and the plans of one stretch of work move it on together.
    class Desk
      # Gives what a desk begins with, team by team, when it is first asked.
      # turns: Hash of person to the number of their latest turn, 0 for none yet; loads: Hash of person to what Load
      # says.
      Source = Value.define(:turns, :loads, :owners) do
        # @return [Source] with which everybody is as good as anybody
        def self.even = new(turns: ->(_) { {} }, loads: ->(_) { {} }, owners: ->(_) {})
      end

      # @param schema [Schema]
      # @param source [Source]
      def initialize(schema, source = Source.even)
        @schema = schema
        @source = source
        @turns = {}
        @loads = {}
        @taken = []
      end

      # @return [Array<String>] keys of the persons of a team who are here, by name
      def members(team) = @schema.people_of(team).select(&:active).map(&:key)

      # Whoever has waited longest comes first. Somebody who was away is not made to catch up.
      # @return [Array<String>]
      def by_turns(team)
        turns = turns(team)
        members(team).sort_by.with_index { |person, i| [turns.fetch(person, 0), i] }
      end

      # @return [Array<Array(String, Float)>] person and load, the lightest first
      def by_load(team)
        loads = (@loads[team] ||= @source.loads.call(team).dup)
        members(team).map { |person| [person, loads.fetch(person, 0.0)] }.sort_by
          .with_index { |(_, load), i| [load, i] }
      end

      # Notes that somebody was chosen.
      # @param way [Symbol] :turns or :load
      # @param more [Float] how much it adds to their load
      def took(way, team, person, more: 0.0)
        @taken << [way, team, person]
        (way == :turns) ?
          turns(team)[person] = (turns(team).values.max || 0) + 1 :
          @loads[team][person] = @loads[team].fetch(person, 0.0) + more
      end

      # @return [Array<Array(String, String)>] team and person of each turn taken since the desk was made, in order
      def turns_taken = @taken.filter_map { |way, team, person| [team, person] if way == :turns }

      # @yield plans something
      # @yieldreturn [Object, nil] nil when it shall count for nothing
      # @return [Object, nil] what the block gave
      def attempt
        before = [@turns.transform_values(&:dup), @loads.transform_values(&:dup), @taken.dup] if begun?
        result = yield
        go_back(before) if result.nil?
        result
      rescue
        go_back(before)
        raise
      end

      # @param rule [Integer] id
      # @return [String, nil] who owns the rule
      def owner_of(rule) = @source.owners.call(rule)

      private

      # Most rules name somebody, and ask for no turns and loads.
      def begun? = !(@turns.empty? && @loads.empty?)

      # @param before [Array, nil] nil where nothing had begun
      def go_back(before)
        @turns, @loads, @taken = before || [{}, {}, []] if begun?
      end

      def turns(team) = @turns[team] ||= @source.turns.call(team).dup
    end
  end
end
