# frozen_string_literal: true

module Yenvo
  module Core
    class Ahead
      # Changes the copy and its tasks as saves would, and lets it happen.
      class Changes
        # @param ahead [Ahead]
        # @param rules [Rules]
        def initialize(ahead, copy, timers, schema, rules)
          @ahead = ahead
          @copy = copy
          @timers = timers
          @schema = schema
          @rules = rules
        end

        # A change of the record, by a person or a rule; rules that run before the save have their say.
        # @return [Hash] what was before and after, by field
        def change(values, depth:, cause:, context:, who: nil)
          before = @copy.image
          values = values.reject { |key, value| before[key] == value }
          return {} if values.empty?

          # What a rule stops before the save does not happen.
          saved = catch(:refused) { before_save(before, before.merge(values).compact, who, depth, cause) } or return {}
          after = stamped(before, saved)
          @copy.become(after)
          @copy.happened("record_changed", at, before:, after:, who:, depth:, context:)
          {"record" => @copy.id, "from" => before.slice(*values.keys), "to" => after.slice(*values.keys)}
        end

        # @param values [Hash] that a rule would set in the record
        # @return [Boolean] whether a rule that runs before the save would stop that
        def refused?(values, depth:, cause:)
          before = @copy.image
          catch(:refused) { before_save(before, before.merge(values).compact, nil, depth, cause) }.nil?
        end

        # @param wanted [Effects::ChangeTasks]
        # @return [Boolean] whether it is another now
        def change_task(task, wanted, context)
          to = {**task.image, **(wanted.due ? @copy.due_image(wanted.due) : {})}
          to["priority"] = wanted.priority if wanted.priority
          to.merge!(holder(wanted)) if wanted.assignee || wanted.queue
          to.merge!("stage" => wanted.state, "open" => wanted.state == "started", "note" => wanted.note) if wanted.state
          write_task(task, to.compact, wanted.due, context)
        end

        # @param to [Hash] what the image of a task becomes
        # @return [Boolean] whether it is another now
        def write_task(task, to, due, context)
          from = task.image
          return false if to == from

          differing = (from.keys | to.keys).reject { |key| from[key] == to[key] }
          changed = CHANGES.filter_map { |name, keys| name if (keys & differing).any? }
          task.image = to
          task.due_at = due.moment if due
          task.late_noted = false if due && changed.include?("due")
          @timers.task_changed(task, changed, at)
          what = changed.include?("state") ? ENDED.fetch(to["stage"], "task_changed") : "task_changed"
          after = context&.with(after: "“#{to["title"]}”")
          detail = {"changed" => changed, "task_was" => differing.to_h { |key| [key, from[key]] }}
          @copy.happened(what, at, task:, context: after, detail:)
          true
        end

        CHANGES = {
          "assignee" => %w[assignee queue], "due" => %w[due late_from], "priority" => %w[priority], "state" => %w[stage]
        }.freeze
        ENDED = {"done" => "task_done", "dropped" => "task_dropped"}.freeze
        private_constant :CHANGES, :ENDED

        private

        def at = @ahead.at

        def holder(wanted)
          team = @schema.person(wanted.assignee)&.team || @copy.start.queue_teams[wanted.queue]
          {"assignee" => wanted.assignee, "queue" => wanted.queue, "team" => team}
        end

        def before_save(before, after, who, depth, cause)
          matcher = @rules.before or return after
          place = -1
          loop do
            event = saved(before, after, who).with(depth:, cause_rule: cause)
            facts = @copy.facts(event)
            rule, place = matcher.next_hit(facts, place)
            return after unless rule

            plan = rule.plan(facts, now: at) { @copy.over?(rule, facts, rule.once_key(facts)) }
            next unless plan.run?

            plan.steps.each do |_, _, step|
              throw(:refused) if step.refusal

              after = after.merge(step.values).compact
            end
          end
        rescue Error
          after
        end

        def saved(before, after, who) =
          Event.look(@copy.kind.key, after, at:, what: "record_changed", before:, who:)

        def stamped(before, after)
          stamp = Reading.moment(at)
          since = (before["since"] || {}).merge(Event.differing(before, after).to_h { |key| [key, stamp] })
          after = after.merge("changed" => stamp, "version" => before["version"].to_i + 1, "since" => since)
          return after if before["stage"] == after["stage"]

          after.merge("stage_since" => stamp, "visit" => before["visit"].to_i + 1)
        end
      end
    end
  end
end
