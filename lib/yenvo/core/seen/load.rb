# frozen_string_literal: true

module Yenvo
  module Core
    # How much somebody has to do: their open tasks, each weighed by priority and by how soon it is due, against the
    # working time they have in the next five working days.
    module Load
      PRIORITIES = {"low" => 0.5, "normal" => 1.0, "high" => 2.0, "urgent" => 3.0}.freeze
      # Late or due today, due within five working days, due later or without a date.
      NEAR = {"now" => 2.0, "soon" => 1.0, "later" => 0.5}.freeze
      DAYS = 5
      # What one more normal task adds, in full hours.
      ONE = 1.0

      module_function

      # @param counts [Hash{Array(String, String) => Integer}] open tasks by priority and nearness
      # @param capacity [Float] see +capacity+
      # @return [Float] weight for each full stretch of five working days
      def of(counts, capacity)
        weight = counts.sum { |(priority, near), count| PRIORITIES.fetch(priority) * NEAR.fetch(near) * count }
        (weight / [capacity, 0.05].max).round(2)
      end

      # @param person [Schema::Person]
      # @param calendar [Calendar]
      # @param today [Date]
      # @return [Float] 1.0 for somebody with full hours who is there all of the next five working days
      def capacity(person, calendar, today)
        days = []
        day = today
        Calendar::MAX_DAYS_AHEAD.times do
          break if days.size == DAYS

          days << day if calendar.working_day?(day)
          day += 1
        end
        there = days.reject { |one| calendar.away_until(person.key, one) }
        full = calendar.own_week?(person.key) ? 1.0 : person.hours / 100.0
        full * there.sum { |one| calendar.share(person.key, one) } / DAYS
      end
    end
  end
end
