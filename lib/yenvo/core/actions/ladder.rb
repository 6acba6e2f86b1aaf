# frozen_string_literal: true

module Yenvo
  module Core
    module Actions
      # What happens, step by step, to a task that nobody finishes: whoever has it is reminded, its priority is raised,
      # it passes to another, it is dropped. Each step looks first whether the task is still open.
      class Ladder < Action
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
          when "queue" then @schema.queues[way["queue"]] || way["queue"]
          else Assignment.all.fetch(way["to"]).words
          end
        end

        def on
          return "this" if settings["on"] == "this" || (settings["on"].nil? && @task_before.nil?)

          settings["on"] ? settings["on"].to_i : @task_before
        end

        def about(task, since) = Facts.of_task(task, at: since)

        def take_remind(step, task, facts, now, rule_name, index)
          persons = [task["assignee"]].compact
          persons = @schema.people_of(task["team"]).map(&:key) if persons.empty? && task["team"]
          return nothing("“#{task["title"]}” has nobody to remind") if persons.empty?

          text = @texts[index] ? fill(@texts[index], facts, now, rule_name) : "“#{task["title"]}” is still open."
          names = persons.map { |person| @schema.name_of(person) }.join(", ")
          [
            Effects::TellPersons.new(
              action: "notice", words: "#{names} reminded of “#{task["title"]}”", record: facts.event.record_id,
              persons:, text: text[0, Reading::MAX_TEXT]
            )
          ]
        end

        def take_raise(step, task, *)
          levels = Schema::TaskField::PRIORITIES
          to = step.priority || levels[[levels.index(task["priority"]) + 1, levels.size - 1].min]
          return nothing("“#{task["title"]}” is #{task["priority"].capitalize} already") if to == task["priority"]

          [
            change(
              task, "“#{task["title"]}” raised from #{task["priority"].capitalize} to #{to.capitalize}",
              priority: to
            )
          ]
        end

        def take_pass_on(_step, task, facts, now, _rule_name, index)
          pick = @choosers[index].choose(facts, today: @schema.calendar.zone.date_of(now))
          to = pick.person ? @schema.name_of(pick.person) : @schema.queues[pick.queue]
          # The queue that it came from is not where it is any more.
          [
            change(
              task, "“#{task["title"]}” passed to #{to}", assignee: pick.person, queue: pick.queue,
              reason: pick.reason
            )
          ]
        end

        def take_drop(_step, task, facts, now, rule_name, index)
          note = @texts[index] ? fill(@texts[index], facts, now, rule_name) : "Nobody finished it."
          [change(task, "“#{task["title"]}” dropped", state: "dropped", note:)]
        end

        def change(task, words, **become)
          Effects::ChangeTasks.new(
            action: "tasks", words:, record: task["record"], which: @always, task: task["id"], **become
          )
        end

        def prepare
          @task_before = @place.tasks.last
          @always = BoundGroup.new("all", [])
          check_on
          wrong("steps", "must have at least one step") if steps.empty?
          @dates = steps.each_with_index.map { |step, i| bind_after(step, i) }
          @texts = steps.each_with_index.map { |step, i| step.text && text(step.text, i) }
          @choosers = steps.each_with_index.map { |step, i| (step.does == "pass_on") ? choose(step, i) : nil }
          steps.each_with_index do |step, i|
            unless step.priority.nil? || Schema::TaskField::PRIORITIES.include?(step.priority)
              wrong(["steps", i, "priority"], "must be one of #{Schema::TaskField::PRIORITIES.join(", ")}")
            end
          end
        end

        def check_on
          named = settings["on"]
          unless named.nil? || named == "this" || @place.tasks.include?(named.to_i)
            return (
              wrong(
                "on",
                "must be the number of an earlier action of this branch that makes a task, or this for the task of " \
                "the event"
              )
            )
          end

          if on == "this" && !@place.watches_task
            wrong(
              "on",
              "must stand behind an action that makes a task; there is none before it, and the trigger watches no tasks"
            )
          end
        end

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

        def text(source, index) =
          Text.bind(source, @kind, @schema, path: path("steps", index, "text"), problems: @problems)
            &.tap { |text| @needs += text.needs }

        def choose(step, index)
          ways =
            [[step.assign, "assign"], [step.fallback, "fallback"]].map do |written, name|
              next unless written

              type = Assignment.all.fetch(written["to"])
              type.bind(written.except("to"), @kind, @schema, path: path("steps", index, name), problems: @problems)
                &.tap { |way| @needs += way.references.flat_map(&:needs) }
            end
          wrong(["steps", index, "assign"], "must say to whom it passes") unless step.assign
          if ways[0]&.may_fail? && step.fallback.nil?
            wrong(["steps", index, "fallback"], "must name somebody for when #{ways[0].described} is nobody or away")
          end
          Assignment::Chooser.new(ways[0], ways[1], @schema, @schema.calendar) if ways[0]
        end
      end
    end
  end
end
