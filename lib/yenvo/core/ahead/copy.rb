# frozen_string_literal: true

module Yenvo
  module Core
    class Ahead
      # The record and its tasks as they become, and the events that wait to be met.
      class Copy
        # A task about the record; id of those that are only thought is negative.
        Task =
          Struct.new(:id, :image, :due_at, :late_noted, :made_at, :copy, :kit_task, :redated, keyword_init: true) do
            def open? = image["open"]
            def gets_late?(after) = open? && !late_noted && due_at&.>(after)
          end

        attr_reader :image, :kind, :id, :copies, :start

        # @param start [Start]
        def initialize(start, schema)
          @start = start
          @schema = schema
          @kind = schema.kind(start.kind)
          @image = start.image
          @id = start.image["id"]
          @desk = start.desk
          @taken = start.taken.dup
          @ran = start.ran.transform_values(&:dup)
          @copies = start.copies.map(&:dup)
          @tasks =
            start.tasks.to_h do |task|
              [
                task[:image]["id"],
                Task.new(
                  id: task[:image]["id"],
                  **task.slice(:image, :due_at, :late_noted, :made_at, :copy, :kit_task, :redated)
                )
              ]
            end
          @events = []
          @last = 0
        end

        def tasks = @tasks.values
        def task(id) = @tasks[id]

        # @return [Array(Event, Context), nil]
        def next_event = @events.shift

        # @param event [Event]
        # @return [Facts]
        def facts(event)
          # A task leads to its record, as that has become by now.
          linked = (event.kind == Schema::Subjects::TASK) ? @start.linked.merge(@id => @image) : @start.linked
          Facts.new(event, linked, related(event.at), desk: @desk)
        end

        # @return [Facts] the record as it is, with nothing happening
        def look(at) = facts(Event.look(@kind.key, @image, at:))

        # @param task [Task, nil]
        # @return [Facts] what a rule is about as it is, with nothing happening
        def look_for(rule, task, at)
          event = Event.look(@kind.key, @image, at:, detail: task ? {"task" => seen(task, at)} : {})
          facts(rule.kind.task? ? event.of_task : event)
        end

        # @return [Hash] image of a task at a moment
        def seen(task, at) = task.image.merge("late" => task.open? && !task.due_at.nil? && task.due_at <= at)

        # Lets something happen, to be met in its turn.
        def happened(what, at, context:, task: nil, before: @image, after: @image, who: nil, depth: nil, detail: {})
          detail = detail.merge("task" => seen(task, at)) if task
          cause = context&.rule&.id
          depth ||= context ? context.event.depth + 1 : 0
          @events << [
            Event.new(
              id: nil, what:, kind: @kind.key, record_id: @id, before:, after:, who:, at:,
              depth:, cause_rule: cause, detail:
            ),
            context
          ]
        end

        # @param image [Hash] what the record becomes
        def become(image) = @image = image

        # @return [Task]
        def add_task(planned, at, **more)
          id = (@last -= 1)
          person = planned.assignee && @schema.person(planned.assignee)
          said = planned.slice(:title, :priority, :way, :assignee, :queue, :answers).transform_keys(&:to_s)
          image = {
            **said,
            "id" => id, "stage" => "open", "open" => true, "late" => false, "record" => @id,
            "team" => person&.team || @start.queue_teams[planned.queue], "text" => Reading.presence(planned.text),
            "part" => !planned.under.nil?, "made" => Reading.moment(at), "start" => planned.start&.on&.iso8601,
            "remind" => planned.remind && Reading.moment(planned.remind.moment), **due_image(planned.due)
          }.compact
          @tasks[id] = Task.new(id:, image:, due_at: planned.due&.moment, late_noted: false, made_at: at, **more)
        end

        # @param due [Due, nil]
        def due_image(due) = {"due" => due&.on&.iso8601, "late_from" => due && Reading.moment(due.moment)}

        # @return [Time, nil] when the next task gets late
        def next_late(after) = tasks.select { |task| task.gets_late?(after) }.map(&:due_at).min

        # @return [Array<Task>] those that get late now, noted as such
        def late_now(at) =
          tasks.select { |task| task.open? && !task.late_noted && task.due_at && task.due_at <= at }
            .sort_by.with_index { |task, made| [task.due_at, made] }.each { |task| task.late_noted = true }

        # @return [Boolean] whether "how often" keeps a rule from running
        def over?(rule, facts, key)
          return false if Continuation.of?(facts.event)
          return @taken.include?([rule.id, key]) unless rule.every_days

          since = facts.event.at - (rule.every_days * 86_400)
          @ran.fetch(rule.id, []).any? { |at| at > since && at <= facts.event.at }
        end

        def ran(rule, key, at)
          @taken << [rule.id, key] if key
          (@ran[rule.id] ||= []) << at if rule.every_days
        end

        private

        def related(at)
          return @start.related unless @start.related.key?([@id, "tasks"])

          @start.related.merge([@id, "tasks"] => tasks.map { |task| seen(task, at) })
        end
      end
    end
  end
end
