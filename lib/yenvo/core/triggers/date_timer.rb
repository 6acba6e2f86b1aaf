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
          wrong = ->(sentence, *step) { problems << Problem.at(["trigger", "date", *step], sentence) }
          rule = DateRule.new(**DateRule.members.to_h { |name| [name, settings["date"][name.to_s]] })
          return wrong.call("must be left out; a timer waits for its date", "otherwise") if rule.otherwise
          if %w[now event].include?(rule.from)
            return wrong.call("must be a date field; a timer needs a date to count from", "from")
          end

          about = of_tasks_of_records? ? schema.tasks : kind
          @date = BoundDate.bind(rule, about, schema, schema.calendar, path: %w[trigger date], problems:)
          reference = @date&.reference
          if kind.task? && reference && reference.links.size > 1
            wrong.call("must be a date of the task itself or of its record", "from")
          end
          wrong.call("must be a date that does not change of itself from day to day", "from") if reference&.day?
        end

        def timing(rule) = Timing::ByDate.new(rule, self)

        def sentence =
          date.phrase.then { |words| of_tasks_of_records? ? "#{words} of a task" : words }
            .sub(/\Aon the day of/, "On the day of")

        def imagine(image)
          from = date.reference
          super unless from.own? && !from.field.worked_out? && image[from.field.key].nil?
        end

        private

        # The tasks about the records that the rule is about.
        def of_tasks_of_records? = task? && !kind.task?

        def timer_name = "date"
      end
    end
  end
end
