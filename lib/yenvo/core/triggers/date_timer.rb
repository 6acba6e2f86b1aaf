# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # N minutes to months before or after a date field of the record, of a linked one, or of a task about it. Without
      # a time of day it comes at the start of work.
      class DateTimer < TimerTrigger
        def self.takes = {"date" => :date, "task" => :flag}
        def self.needs = ["date"]
        def self.words = "has a date that comes near, or is past"

        # @return [BoundDate]
        attr_reader :date

        def check(problems)
          rule = DateRule.new(**DateRule.members.to_h { |name| [name, settings["date"][name.to_s]] })
          if rule.otherwise
            return problems << Problem.at(%w[trigger date otherwise], "must be left out; a timer waits for its date")
          end
          if %w[now event].include?(rule.from)
            return (
              problems << Problem.at(%w[trigger date from], "must be a date field; a timer needs a date to count from")
            )
          end

          @date =
            BoundDate.bind(
              rule, task? ? schema.tasks : kind, schema, schema.calendar, path: %w[trigger date], problems: problems
            )
          if @date&.reference&.day?
            problems << Problem.at(
              %w[trigger date from], "must be a date that does not change of itself from day to day"
            )
          end
        end

        def timing(rule) = Timing::ByDate.new(rule, self)

        def sentence =
          date.phrase.then { |words| task? ? "#{words} of a task" : words }.sub(/\Aon the day of/, "On the day of")

        def imagine(image) =
          (date.reference.own? && !date.reference.field.worked_out? && image[date.reference.field.key].nil?) ?
            nil :
            super

        private

        def timer_name = "date"
      end
    end
  end
end
