# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # Asks the way, then the fallback, and says who was passed over and why.
      class Chooser
        # @param way [Way]
        # @param fallback [Way, nil]
        def initialize(way, fallback, schema, calendar)
          @way = way
          @fallback = fallback
          @schema = schema
          @calendar = calendar
        end

        # @param today [Date, nil] the local day; nil when it does not matter who is away
        # @return [Pick]
        # @raise [Error] when there is no one
        def choose(facts, today:) = one_of([@way, @fallback].compact, facts, today)

        # @return [Array<Pick>] one for each person; more than one only where the way names several
        # @raise [Error] when there is no one
        def choose_all(facts, today:)
          return [choose(facts, today:)] unless @way.is_a?(Several)

          chosen, passed = @way.ways.map { |way| [way, way.pick(facts)] }.uniq { |way, person| person || way }
            .map { |way, person| [way, person, why_not(way, person, today)] }.partition { |_, _, why| why.nil? }
          return [one_of([@way, @fallback].compact, facts, today)] if chosen.empty?

          said = suffix(passed.map { |way, person, why| [person, way, why] })
          chosen.map do |way, person, _|
            Pick.new(person:, queue: nil, reason: "to #{@schema.name_of(person)}, #{way.described}#{said}")
          end
        end

        private

        def one_of(ways, facts, today)
          passed = []
          ways.each do |way|
            return Pick.new(person: nil, queue: way.queue, reason: "to #{way.described}#{suffix(passed)}") if way.queue

            candidates = way.candidates(facts)
            candidates = [[nil, nil]] if candidates.empty?
            candidates.each do |person, said|
              why_not = why_not(way, person, today)
              next passed << [person, way, why_not] if why_not

              way.took(facts, person)
              return taken(person, way, passed, said)
            end
          end
          last_resort(passed)
        end

        def why_not(way, person, today)
          return way.nobody if person.nil?
          return "#{@schema.name_of(person)} has left" unless @schema.person(person)&.active

          back = today && @calendar.away_until(person, today)
          "#{@schema.name_of(person)} is away until #{Show.date(back)}" if back
        end

        def taken(person, way, passed, said)
          Pick.new(
            person:, queue: nil,
            reason: "to #{@schema.name_of(person)}, #{way.described}#{" (#{said})" if said}#{suffix(passed)}"
          )
        end

        # Somebody who is away is better than nobody: the task is seen when they are back, and by their lead before.
        def last_resort(passed)
          person, way, why = passed.reverse.find { |key, _, _| key && @schema.person(key)&.active }
          unless person
            raise Error, "There is no one to assign to: #{passed.map(&:last).join("; ")}. Give the action a fallback."
          end

          Pick.new(
            person:, queue: nil,
            reason: "to #{@schema.name_of(person)}, #{way.described}, though #{why} and there is no other"
          )
        end

        def suffix(passed) = passed.empty? ? "" : "; #{passed.map(&:last).join("; ")}"
      end
    end
  end
end
