# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # Asks the way, then the fallback, and says who was passed over and why.
      class Chooser
        # @param way [Way]
        # @param fallback [Way, nil]
        def initialize(way, fallback, schema)
          @way = way
          @fallback = fallback
          @schema = schema
          @calendar = schema.calendar
        end

        # @param today [Date, nil] the local day; nil when it does not matter who is away
        # @param whose [Array(Schema::Kind, String), nil] kind and owner of a record that whoever is chosen has to see
        # @return [Pick]
        # @raise [Error] when there is no one
        def choose(facts, today:, whose: nil) = one_of([@way, @fallback].compact, facts, [today, whose])

        # @return [Array<Pick>] one for each person; more than one only where the way names several
        # @raise [Error] when there is no one
        def choose_all(facts, today:, whose: nil)
          return [choose(facts, today:, whose:)] unless @way.is_a?(Several)

          asked = @way.ways.map { |way| [way, way.pick(facts)] }.uniq { |way, person| person || way }
          asked.map! { |way, person| [way, person, why_not(way, person, today, whose)] }
          passed, chosen = asked.partition(&:last)
          return [choose(facts, today:, whose:)] if chosen.empty?

          said = suffix(passed)
          chosen.map { |way, person, _| picked(person, "#{way.described}#{said}") }
        end

        private

        # @param asked [Array] day, and whose record it is about
        def one_of(ways, facts, asked)
          passed = []
          ways.each do |way|
            refused = way.refuses(facts)
            next passed << [nil, way, refused] if refused
            return Pick.new(person: nil, queue: way.queue, reason: "to #{way.described}#{suffix(passed)}") if way.queue

            candidates = way.candidates(facts)
            candidates = [[nil, nil]] if candidates.empty?
            candidates.each do |person, said|
              why = why_not(way, person, *asked)
              next passed << [person, way, why] if why

              way.took(facts, person)
              return picked(person, "#{way.described}#{" (#{said})" if said}#{suffix(passed)}")
            end
          end
          last_resort(passed, asked[1])
        end

        def why_not(way, person, today, whose)
          return way.nobody if person.nil?
          return "#{@schema.name_of(person)} has left" unless @schema.person(person)&.active
          return "#{@schema.name_of(person)} is a program" if @schema.person(person).program
          return "#{@schema.name_of(person)} may not see the #{whose[0].noun}" unless sees?(person, whose)

          back = today && @calendar.away_until(person, today)
          "#{@schema.name_of(person)} is away until #{Show.date(back)}" if back
        end

        def sees?(person, whose) = whose.nil? || @schema.access(person).may?(:seen_by, *whose)

        def picked(person, words) = Pick.new(person:, queue: nil, reason: "to #{@schema.name_of(person)}, #{words}")

        # Somebody who is away is better than nobody: the task is seen when they are back, and by their lead before.
        def last_resort(passed, whose)
          person, way, why =
            passed.reverse.find { |key, _, _| key && @schema.person(key)&.at_work? && sees?(key, whose) }
          return picked(person, "#{way.described}, though #{why} and there is no other") if person

          raise Error, "There is no one to assign to: #{passed.map(&:last).join("; ")}. Give the action a fallback."
        end

        # @param passed [Array<Array>] each with why at its end
        def suffix(passed) = passed.empty? ? "" : "; #{passed.map(&:last).join("; ")}"
      end
    end
  end
end
