# frozen_string_literal: true

module Yenvo
  module Core
    class Schema
      # What a task says, one field each, in the order of the forms. Rule and kit files, their JSON Schemas, the forms
      # that write a task, its columns, what conditions see of it and what the API shows are all made of this table, so
      # that a new field of a known type is one line here and one column.
      # key: in files, in Actions::MakeTask and in Kits::KitTask; label: in the forms of rules and kits; type: one of
      # TYPES; stands: the forms it stands in, of FORMS; usual: what it is when it is not given; columns: of the table
      # tasks and names in the API; choices: for a choice; asked: label in the forms for people's own tasks, nil for the
      # same; hints: Hash of a sentence by form; seen: type of the field in Core::Schema::TaskKind, nil for none;
      # seen_as: its label there, nil for the same.
      TaskField =
        Value.define(:key, :label, :type, :stands, :usual, :columns, :choices, :asked, :hints, :seen, :seen_as) do
          def template? = TaskField::TEMPLATES.include?(type)
          def date? = TaskField::DATES.include?(type)

          # @return [Boolean] whether a planned task says the same as is written
          def as_written? = TaskField::AS_WRITTEN.include?(type)
          def stands?(form) = stands.include?(form)
          def column = columns[0]
          def name = key.to_sym

          # @return [Hash] plain, for the editor
          def to_h
            {
              "key" => key, "label" => label, "asked" => asked || label, "type" => type, "stands" => stands,
              "names" => columns, "choices" => choices, "hints" => hints, "usual" => usual
            }
          end
        end

      class << TaskField
        # @return [Array<TaskField>] all
        def all = self::ALL

        # @param form [String] of FORMS
        # @return [Array<TaskField>] those that stand in it, in their order
        def of(form) = all.select { |field| field.stands?(form) }

        # @return [Hash{Symbol => Object}] what those of a form are when they are not given
        def usual(form) = of(form).to_h { |field| [field.name, field.usual] }

        def [](key) = all.find { |field| field.key == key } || raise(KeyError, "a task has no field #{key}")

        private

        def row(key, label, type, stands, columns = [key], usual: nil, choices: [], asked: nil, hints: {}, **seen)
          new(
            key:, label:, type:, stands: (stands == :all) ? self::FORMS : stands, usual:,
            columns:, choices:, asked:, hints:, seen: seen[:seen], seen_as: seen[:seen_as]
          )
        end
      end

      # Where a task is written: in a rule, in a kit, by hand for a new one, by hand for one that there is.
      TaskField::FORMS = %w[rule kit new edit].freeze
      # Texts with blanks; each line of "lines" becomes a task.
      TaskField::TEMPLATES = %w[lines line text link].freeze
      # Worked out from a DateRule: a day, a moment, or a day with or without a time of day.
      TaskField::DATES = %w[day moment due].freeze
      # A level is a choice of what is more or less, in that order.
      TaskField::CHOICES = %w[choice level].freeze
      TaskField::AS_WRITTEN = [*TaskField::CHOICES, "number", "answers", "flag", "under", "fills"].freeze
      # "assign" is a way to assign, "target" the record it is about, "under" the number of an earlier action, "fills"
      # the key of a paper of the set-up.
      TaskField::TYPES =
        [*TaskField::TEMPLATES, *TaskField::DATES, *TaskField::AS_WRITTEN, "assign", "target", "paper"].freeze
      TaskField::WAYS = %w[call email letter visit check other].freeze
      TaskField::PRIORITIES = %w[low normal high urgent].freeze
      TaskField::MAX_ANSWERS = 9
      TaskField::MAX_ANSWER = 60
      TaskField::MAX_NUMBER = 999

      class << TaskField
        private

        def table
          rule = %w[rule]
          both = %w[rule kit]
          [
            row("title", "Title", "lines", :all, asked: "What to do", seen: "text"),
            row("text", "Text", "text", :all, asked: "More about it", seen: "long_text"),
            row("location", "Where", "line", :all, seen: "text"),
            row("of", "About", "target", rule),
            row(
              "way", "Answer by", "choice", :all, usual: "other", choices: self::WAYS, seen: "choice", seen_as: "Way"
            ),
            row("priority", "Priority", "level", :all, usual: "normal", choices: self::PRIORITIES, seen: "choice"),
            row("assign", "Goes to", "assign", both, %w[assignee queue team]),
            row("fallback", "If that is nobody or away", "assign", both, []),
            row("due", "Due date", "due", :all, %w[due_on due_at], asked: "Due", seen: "date", seen_as: "Due"),
            row(
              "start", "Start date", "day", :all, %w[start_on], asked: "Not before", seen: "date", seen_as: "Start",
              hints: {"hand" => "Until then it stands under Starts later."}
            ),
            row(
              "remind", "Reminder", "moment", :all, %w[remind_at], seen: "datetime",
              hints: {"hand" => "Told in the bell to whoever has it then."}
            ),
            row(
              "answers", "Answers it asks for, one a line", "answers", :all, usual: [],
              hints: {
                "rule" => "At most nine. The person who does the task chooses one.",
                "kit" => "Other tasks can come after one of them.",
                "hand" => "Leave it empty for a task that is simply done."
              }
            ),
            row(
              "ask", "Ask first: whoever caused it sees the filled-in task and sends it or throws it away.", "flag",
              rule, [], usual: false, hints: {"rule" => "A blank to fill in is written as ___."}
            ),
            row(
              "log", "When it is done, log it on the record as a call, e-mail, letter or meeting.", "flag", both,
              %w[log_done], usual: false
            ),
            row("paper", "Paper", "paper", both, []),
            row(
              "fills", "Paper it asks for", "fills", :all,
              hints: {
                "rule" => "Whoever does the task makes it by one press.",
                "kit" => "Whoever does the task makes it by one press.",
                "hand" => "Filled in from the record by one press."
              }
            ),
            row("web_link", "Web link", "link", :all),
            row("place", "Place in an order", "number", %w[rule edit]),
            row("under", "Part of action no.", "under", rule, [])
          ]
        end
      end
      TaskField::ALL = TaskField.send(:table).freeze
    end
  end
end
