# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # Makes a task, as it is written: the fields of Schema::TaskField that stand in a rule. Texts with blanks are
      # texts; assign, fallback: Hash with "to" and the settings of that way to assign, or nil; dates: DateRule or nil;
      # under: number (from 1) of an earlier action of the branch whose task is the parent, or nil; of: the record it is
      # about (see Target), nil for that of the rule; ask: true when whoever caused it is shown the task first and sends
      # it or throws it away; paper: Hash with "name" and "text", texts with blanks that are filled in and attached as a
      # file, or nil.
      MakeTask =
        Value.define(**Schema::TaskField.usual("rule")) do
          # @return [Hash] as in a rule file
          def to_h = {"action" => "task", **MakeTask.plain(self, "rule")}

          def name = "task"
          def settings = {"of" => of}
        end

      class << MakeTask
        # @param form [String] "rule" or "kit"
        # @return [Hash{String => Object}] what a task of a file says: what is given, plain
        def plain(task, form)
          Schema::TaskField.of(form).to_h { |field| [field.key, plain_value(field, task[field.name])] }.compact
        end

        private

        def plain_value(field, value)
          case field.type
          when "flag" then value || nil
          when "answers" then value.empty? ? nil : value
          when *Schema::TaskField::DATES then value&.to_h
          else value
          end
        end
      end
    end
  end
end
