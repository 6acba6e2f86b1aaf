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
        # @return [Pick]
        # @raise [Error] when there is no one
        def choose(facts, today:) = one_of([@way, @fallback].compact, facts, today)

        # @return [Array<Pick>] one for each person; more than one only where the way names several
        # @raise [Error] when there is no one
        def choose_all(facts, today:)
          return [choose(facts, today:)] unless @way.is_a?(Several)

          asked = @way.ways.map { |way| [way, way.pick(facts)] }.uniq { |way, person| person || way }
          whys = asked.to_h { |way, person| [way, why_not(way, person, today)] }
          chosen = asked.reject { |way, _| whys[way] }
          return [choose(facts, today:)] if chosen.empty?

          said = suffix(whys.values.compact.zip)
          chosen.map { |way, person| picked(person, "#{way.described}#{said}") }
        end

        private

        def one_of(ways, facts, today)
          passed = []
          ways.each do |way|
            refused = way.refuses(facts)
            next passed << [nil, way, refused] if refused
            return Pick.new(person: nil, queue: way.queue, reason: "to #{way.described}#{suffix(passed)}") if way.queue

            candidates = way.candidates(facts)
            candidates = [[nil, nil]] if candidates.empty?
            candidates.each do |person, said|
              why = why_not(way, person, today)
              next passed << [person, way, why] if why

              way.took(facts, person)
              return picked(person, "#{way.described}#{" (#{said})" if said}#{suffix(passed)}")
            end
          end
          last_resort(passed)
        end

        def why_not(way, person, today)
          return way.nobody if person.nil?
          return "#{@schema.name_of(person)} has left" unless @schema.person(person)&.active
          return "#{@schema.name_of(person)} is a program" if @schema.person(person).program

          back = today && @calendar.away_until(person, today)
          "#{@schema.name_of(person)} is away until #{Show.date(back)}" if back
        end

        def picked(person, words) = Pick.new(person:, queue: nil, reason: "to #{@schema.name_of(person)}, #{words}")

        # Somebody who is away is better than nobody: the task is seen when they are back, and by their lead before.
        def last_resort(passed)
          person, way, why = passed.reverse.find { |key, _, _| key && @schema.person(key)&.at_work? }
          return picked(person, "#{way.described}, though #{why} and there is no other") if person

          raise Error, "There is no one to assign to: #{passed.map(&:last).join("; ")}. Give the action a fallback."
        end

        # @param passed [Array<Array>] each with why at its end
        def suffix(passed) = passed.empty? ? "" : "; #{passed.map(&:last).join("; ")}"
      end
    end
  end
end
