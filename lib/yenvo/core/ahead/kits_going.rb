# frozen_string_literal: true

module Yenvo
  module Core
    class Ahead
      # The kits in use on the copy: they begin, their next tasks come, and dates follow their target.
      class KitsGoing
        # @param ahead [Ahead]
        # @param changes [Changes]
        def initialize(ahead, copy, changes)
          @ahead = ahead
          @copy = copy
          @changes = changes
        end

        # @param task [PlannedTask]
        # @param more [Hash] copy (index of the kit in use) and kit_task
        # @return [Copy::Task]
        def add(task, context, **more)
          made = @copy.add_task(task, at, **more)
          @ahead.note_task(context, "task", task)
          @copy.happened("task_made", at, task: made, context: context&.with(after: "“#{task.title}”"))
          made
        end

        # @param step [Effects::BeginKit]
        def begin(step, context)
          kit = step.kit
          return if @copy.copies.any? { |copy| copy[:kit].id == kit.id && !copy[:over] }

          @copy.copies << {kit:, anchor: step.anchor, follows: kit.kit.field? ? kit.kit.from : nil, passed: []}
          come(step.tasks, @copy.copies.size - 1, context)
        end

        # Goes on with what has happened.
        def go_on(event, context)
          next_tasks(event, context) if %w[task_done task_dropped].include?(event.what)
          follow_target(event, context) if event.what == "record_changed"
        end

        private

        def at = @ahead.at
        def come(tasks, copy, context) = tasks.each { |task| add(task, context, copy:, kit_task: task.kit_task) }

        def next_tasks(event, context)
          index = @copy.task(event.detail.dig("task", "id"))&.copy or return
          copy = @copy.copies[index]
          due = Kits::Progress.new(copy[:kit].kit, states(index, copy)).due
          return if due.empty?

          facts = @copy.look(at)
          come(copy[:kit].come(due, facts, now: at, anchor: anchor(copy, facts)), index, context)
        rescue Error
          nil
        end

        def states(index, copy)
          state = Kits::Progress::State
          come = @copy.tasks.select { |task| task.copy == index }
          copy[:passed].to_h { |key| [key, state.over] }
            .merge(come.to_h { |task| [task.kit_task, task.open? ? state.open : state.over(task.image["answer"])] })
        end

        def follows?(copy) = copy[:follows] && copy[:kit].kit.moves == "follow"
        def anchor(copy, facts) = follows?(copy) ? copy[:kit].anchor(facts, now: at) : copy[:anchor]

        def follow_target(event, context)
          @copy.copies.each_with_index do |copy, index|
            next unless follows?(copy) && event.before[copy[:follows]] != event.after[copy[:follows]]

            facts = @copy.look(at)
            facts = facts.anchored(anchor(copy, facts))
            mine = @copy.tasks.select { |task| task.copy == index && task.open? && !task.redated }
            mine.each { |task| redate(task, copy[:kit].tasks[task.kit_task], facts, context) }
          end
        end

        def redate(task, template, facts, context)
          dates = template&.moved(facts, now: task.made_at)
          return unless dates&.key?(:due)

          due = dates[:due]
          return unless @changes.write_task(task, task.image.merge(@copy.due_image(due)).compact, due, context)

          image = task.image
          words = "“#{image["title"]}” moves to #{due ? Show.date(due.on) : "no date"} with the kit"
          @ahead.note(
            context, "task_changed", words, title: image["title"], who: image["assignee"] || image["queue"], due:
          )
        end
      end
    end
  end
end
