# frozen_string_literal: true

module Yenvo
  module Core
    module Operators
      # The base of those that hold a date against the moment of the event. The operand is a Span.
      class Relative < Operator
        def takes = :span
        def types = Schema::DATES

        # @return [Integer] 1 when it looks ahead, -1 when back
        def sign = raise(NotImplementedError)

        # @param actual [String] plain date or moment
        # @param edge [String] plain form of the day or moment that far away
        # @param now [String] plain form of the day or moment of the event
        def within?(actual, edge, now) = raise(NotImplementedError)

        def compile(get, span, _before, calendar:, type:, **)
          way = sign
          plain = ->(facts) { (type == "date") ? facts.today(calendar).iso8601 : Reading.moment(facts.event.at) }
          far = ->(facts) do
            if type == "date"
              span.day(facts.today(calendar), way, calendar).iso8601
            else
              Reading.moment(span.moment(facts.event.at, way, calendar))
            end
          end
          ->(facts) { (actual = get.call(facts)) ? within?(actual, far.call(facts), plain.call(facts)) : false }
        end

        def phrase(shown) = words.sub("N", shown.to_s)

        # Days and moments on both sides of the edge and of now.
        def edges(span) = [span]
      end
    end
  end
end
