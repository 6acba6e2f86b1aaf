# frozen_string_literal: true

module Yenvo
  module Engine
    # Runs a draft on live records as if its trigger happened to each of them now. Writes nothing.
    class Trying
      MAX_LOOKED_AT = 10_000
      PAGE = 60
      READ = 2_000

      # What a try found. looked_at: records the trigger could meet that were gone through, newest first; counts: Hash
      # of row label ("1", "otherwise", "skip") to number; rows: of these records, Array of Hashes with id, title,
      # branches and why; rest: where to go on (changed and id), nil when all were looked at.
      Result = Core::Value.define(:looked_at, :counts, :rows, :rest)

      # @param root [Store::Root]
      # @param rule [Core::CompiledRule]
      # @param who [String, nil] person who is thought to cause the events
      # @param now [Time]
      # @param filter [Hash, nil] which records to look at: "filters" (field to values) and "search"; all when not given
      def initialize(root, rule, who:, now:, filter: nil)
        @root = root
        @rule = rule
        @who = who
        @now = now
        @filter = filter || {}
      end

      # @param show [String, nil] only rows with this label; nil for all
      # @param after [Hash, nil] a +rest+ of before
      # @param most [Integer] records to look at
      # @return [Result]
      def over(show: nil, after: nil, most: MAX_LOOKED_AT)
        counts = Hash.new(0)
        rows = []
        looked = 0
        loop do
          page = page(after, [READ, most - looked].min)
          looked += page[:facts].size
          tally(page[:facts], counts, rows, show)
          after = page[:rest]
          break if after.nil? || looked >= most
        end
        Result.new(looked_at: looked, counts:, rows:, rest: after)
      end

      # Some records, and of these the ones on which the rule would run.
      # @return [Hash] looked_at; facts: Array<Core::Facts> of those that match; rest: where to go on, nil at the end
      def matching(after:, limit:)
        page = page(after, limit)
        hits = page[:facts].map { |facts| @rule.hit(facts) }
        ran = ran_already(page[:facts], hits)
        met = page[:facts].zip(hits).filter_map { |facts, hit| facts if hit && !ran.include?(facts.record_id) }
        {looked_at: page[:facts].size, facts: met, rest: page[:rest]}
      end

      # @param change [Hash{String => Object}] values that the record is thought to have got, plain; the trigger is then
      #   asked whether that is what it watches
      # @return [Array(Core::Facts, Core::Plan), nil] what would happen to one record, or task, with every reason; nil
      #   when the trigger cannot meet it
      # @raise [Store::NotFound]
      def one(record_id, change: nil)
        return one_task(record_id) if @rule.kind.task?

        image = @root.records.find!(record_id)
        return changed(image, change) if change&.any?

        facts = facts_of([image]).first
        facts && [facts, plan(facts)]
      end

      private

      def one_task(id)
        facts = facts_of_tasks([@root.task_rows.find!(id)]).first
        facts && [facts, plan(facts)]
      end

      def page(after, limit)
        return page_of_tasks(after, limit) if @rule.kind.task?

        images =
          @root.lists.newest(
            @rule.kind.key, @rule.trigger.possible, after:, limit:, filters: @filter["filters"] || {},
            search: @filter["search"], now: @now
          )
        {facts: facts_of(images), rest: (images.size == limit) ? images.last.slice("changed", "id") : nil}
      end

      def page_of_tasks(after, limit)
        rows = @root.task_rows.newest(before: after && after["id"], limit:)
        rest = {"changed" => Core::Reading.moment(rows.last[:made_at]), "id" => rows.last[:id]} if rows.size == limit
        {facts: facts_of_tasks(rows), rest:}
      end

      # One for each task that any of the triggers can meet.
      # @param rows [Array<Hash>]
      def facts_of_tasks(rows)
        one_each(
          rows.flat_map do |row|
            @rule.trigger.all.filter_map do |trigger|
              detail = trigger.imagine_task(@root.tasks.seen(row, @now)) or next
              Core::Event.new(
                id: nil, what: trigger.what, kind: row[:kind], record_id: row[:record_id], before: {}, after: {},
                who: @who, at: @now, detail:
              ).of_task
            end
          end
        )
      end

      # What the event happened to.
      def subject(facts) = @rule.kind.task? ? facts.after["id"] : facts.record_id

      # Of the events of each subject the one on which the rule runs, where there is such.
      def one_each(events)
        load(events).group_by { |facts| subject(facts) }
          .map { |_, all| ((all.size > 1) && all.find { |facts| @rule.hit(facts) }) || all.first }
      end

      # One for each record that any of the triggers can meet: the one on which the rule runs, where there is such.
      def facts_of(images)
        triggers = @rule.trigger.all
        newest = triggers.any?(&:task?) ? @root.tasks.newest_of(images.map { |image| image["id"] }) : {}
        thought =
          images.flat_map do |image|
            triggers.filter_map { |trigger| happening(trigger, image, newest.fetch(image["id"], [])) }
          end
        one_each(thought)
      end

      # @param tasks [Array<Hash>] rows of the newest tasks about the record
      # @return [Core::Event, nil] what the trigger would meet; nil when it cannot happen
      def happening(trigger, image, tasks)
        if trigger.task?
          detail = tasks.lazy.filter_map { |row| trigger.imagine_task(@root.tasks.seen(row, @now)) }.first
          return detail && event(image, image, image, trigger.what, detail, trigger)
        end

        pair = trigger.imagine(image)
        pair && event(image, *pair, what(trigger, pair[0]), trigger.sample_detail, trigger)
      end

      # A trigger that looks at the record's own changes tells a new record by its having no before.
      def what(trigger, before)
        return trigger.what unless trigger.before_save?

        before.empty? ? "record_made" : "record_changed"
      end

      def changed(image, change)
        after = image.merge(change).compact
        after = after.merge("visit" => image["visit"].to_i + 1) if after["stage"] != image["stage"]
        facts = load([event(image, image, after, "record_changed", {}, @rule.trigger)]).first
        [facts, plan(facts)]
      end

      def event(image, before, after, what, detail, trigger)
        Core::Event.new(
          id: nil, what:, kind: @rule.kind.key, record_id: image["id"], before:, after:,
          who: trigger.sample_who(image) || @who, at: @now,
          detail: detail.key?("by_hand") ? {"rule" => @rule.id} : detail
        )
      end

      def load(events)
        needs = (@rule.needs_to_match + @rule.needs_to_plan).uniq
        @root.snapshots.facts(events, desk: @root.desks.look(now: @now)) { needs }
      end

      # The fast form answers for all, the explaining form for the few that are shown.
      def tally(facts, counts, rows, show)
        hits = facts.map { |one| @rule.hit(one) }
        ran = ran_already(facts, hits)
        facts.zip(hits) do |one, hit|
          labels = (hit.nil? || ran.include?(subject(one))) ? ["skip"] : hit.map { |index| @rule.label(index) }
          labels.each { |label| counts[label] += 1 }
          rows << row(one) if rows.size < PAGE && (show.nil? || labels.include?(show))
        end
      end

      # @return [Set<Integer>] records for which "how often" is used up
      def ran_already(facts, hits)
        met = @rule.id ? facts.zip(hits).filter_map { |one, hit| one if hit } : []
        return Set.new if met.empty?
        if @rule.every_days
          return @root.runs.records_within(@rule.id, met.map { |one| one.event.record_id }, @rule.every_days, @now)
        end

        keys = met.to_h { |one| [subject(one), @rule.once_key(one)] }
        taken = @root.runs.keys_taken(@rule.id, keys.values)
        keys.select { |_, key| taken.include?(key) }.keys.to_set
      end

      def row(facts)
        plan = plan(facts)
        {
          "id" => subject(facts), "title" => facts.after["title"], "branches" => plan.branches, "why" => plan.why,
          "failed" => false
        }
      rescue Core::Error => error
        {
          "id" => subject(facts), "title" => facts.after["title"], "branches" => [], "why" => error.message,
          "failed" => true
        }
      end

      def plan(facts) = @rule.plan(facts, now: @now) { @rule.id && @root.runs.ran_lately?(@rule, facts) }
    end
  end
end
