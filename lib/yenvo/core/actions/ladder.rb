# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # What happens, step by step, to a task that nobody finishes: whoever has it is reminded, its priority is raised,
      # it passes to another, it is dropped. Each step looks first whether the task is still open.
      class Ladder < Action
        include OnTask

        FROM = %w[due made now].freeze

        def self.takes = {"on" => :text, "steps" => :ladder}
        def self.required = %w[steps]
        def self.words = "Ladder for a task nobody finishes"

        # @return [Array<LadderStep>]
        def steps = settings["steps"]

        def plan(facts, now:, rule_name:)
          [effect(Effects::BeginLadder, shown, on:)]
        end

        def shown = "Ladder: #{steps.each_index.map { |i| "#{@dates[i]&.phrase} #{step_words(steps[i])}" }.join(", ")}"

        # @param index [Integer] of a step
        # @param task [Hash] image of the task now
        # @param since [Time] when the step before was taken, or the ladder began
        # @return [Time, nil] nil when the task has no such date
        def due(index, task, since:)
          @dates[index].moment(about(task, since), now: since)
        end

        # What a step does to the task as it is now.
        # @param facts [Facts] the record, with the task in the detail of the event
        # @return [Array<Effects::Step>]
        def take(index, facts, now:, rule_name:)
          step = steps[index]
          task = facts.event.detail["task"]
          send(:"take_#{step.does}", step, task, facts, now, rule_name, index)
        end

        # @return [String] such as "raises the priority"
        def step_words(step)
          case step.does
          when "remind" then "remind"
          when "raise" then step.priority ? "raise to #{step.priority.capitalize}" : "raise the priority"
          when "pass_on" then "pass on"
          when "drop" then "drop"
          end
        end

        # @param index [Integer]
        # @return [String] such as "passes to Tobias Kell"
        def step_shown(index)
          step = steps[index]
          return "to #{receiver(step.assign)}" if step.does == "pass_on"

          {
            "remind" => "a reminder",
            "raise" => step.priority ? "priority #{step.priority.capitalize}" : "priority one level up",
            "drop" => "dropped"
          }[step.does]
        end

        # @return [String] how a step counts, such as "1 working day after Due"
        def phrase(index) = @dates[index].phrase

        private

        def receiver(way)
          case way["to"]
          when "person" then @schema.name_of(way["person"])
          when "queue" then @schema.queue_name(way["queue"]) || way["queue"]
          else Assignment.all.fetch(way["to"]).words
          end
        end

        def about(task, since) = Facts.of_task(task, at: since)

        def take_remind(step, task, facts, now, rule_name, index)
          title = "“#{task["title"]}”"
          persons = [task["assignee"]].compact
          persons = @schema.people_of(task["team"]).map(&:key) if persons.empty? && task["team"]
          return nothing("#{title} has nobody to remind") if persons.empty?

          text = @texts[index] ? fill(@texts[index], facts, now, rule_name) : "#{title} is still open."
          words = "#{persons.map { |person| @schema.name_of(person) }.join(", ")} reminded of #{title}"
          text = Reading.cut(text)
          [Effects::TellPersons.new(action: "notice", words:, record: facts.record_id, persons:, text:)]
        end

        def take_raise(step, task, *)
          levels = Schema::TaskField::PRIORITIES
          from = task["priority"]
          to = step.priority || levels[[levels.index(from) + 1, levels.size - 1].min]
          return nothing("“#{task["title"]}” is #{from.capitalize} already") if to == from

          [change(task, "raised from #{from.capitalize} to #{to.capitalize}", priority: to)]
        end

        def take_pass_on(_step, task, facts, now, _rule_name, index)
          pick = @choosers[index].choose(facts, today: today(now), whose: whose(facts))
          [change(task, "passed to #{pick.name(@schema)}", **pick.slice(:assignee, :queue, :reason))]
        end

        def take_drop(_step, task, facts, now, rule_name, index)
          note = @texts[index] ? fill(@texts[index], facts, now, rule_name) : "Nobody finished it."
          [change(task, "dropped", state: "dropped", note:)]
        end

        def change(task, words, **become)
          Effects::ChangeTasks.new(
            action: "tasks", words: "“#{task["title"]}” #{words}", record: task["record"], which: @always,
            task: task["id"],
            **become
          )
        end

        def prepare
          @always = BoundGroup.new("all", [])
          check_on
          wrong("steps", "must have at least one step") if steps.empty?
          @dates = each_step { |step, i| bind_after(step, i) }
          @texts = each_step { |step, i| step.text && text(step.text, "steps", i, "text") }
          @choosers = each_step { |step, i| choose(step, i) if step.does == "pass_on" }
          each_step { |step, i| check_one_of(Schema::TaskField::PRIORITIES, step.priority, "steps", i, "priority") }
        end

        def each_step(&) = steps.each_with_index.map(&)

        def bind_after(step, index)
          rule = step.after
          if rule.otherwise
            return wrong(["steps", index, "after", "otherwise"], "must be left out; a step waits for its date")
          end
          unless FROM.include?(rule.from)
            return wrong(["steps", index, "after", "from"], "must be one of #{FROM.join(", ")}")
          end

          # Hours count from the moment at which a task is late, days from its day.
          rule = rule.with(from: "late_from") if rule.from == "due" && rule.clocked?
          BoundDate.bind(
            rule, @schema.tasks, @schema, @schema.calendar, path: path("steps", index, "after"), problems: @problems
          )
        end

        def choose(step, index)
          chooser(
            step.assign, step.fallback, "steps", index, people_only: false, unsaid: "must say to whom it passes"
          )
        end
      end
    end
  end
end
