# frozen_string_literal: true

module Yenvo
  module Store
    # Long work that a worker does bit by bit, with progress, and that can be stopped: running a rule on all records
    # that match now.
    class Jobs < Base
      keeps :jobs

      UNDER_WAY = %w[waiting running].freeze

      # @param rule [Hash] row of rules
      # @param total [Integer] records that matched when they were counted
      # @param filter [Hash] which records are looked at: filters and search, as in a list
      # @return [Hash] the row
      # @raise [Refused] also for a rule about tasks, which are met when something happens to them
      def start(rule, total:, filter:, cause:)
        root.transaction do
          locked = db[:rules].where(id: rule[:id]).for_update.first
          name = "“#{locked[:name]}”"
          if locked[:kind] == Core::Schema::Subjects::TASK
            refuse("rule", "#{name} is about tasks, and only what records match can be run.")
          end
          unless locked[:state] == "on"
            refuse("rule", "#{name} is not on. Publish or resume it before you run it on records.")
          end
          of_rule = {what: "run_on_match", rule_id: rule[:id]}
          unless table.where(**of_rule, state: UNDER_WAY).empty?
            refuse("rule", "#{name} is being run on records already. Wait for it, or stop that first.")
          end

          begun = {by: cause.who, at: cause.at, total:, filter: dump(filter), state: "waiting"}
          find!(table.insert(**of_rule, version_id: locked[:version_id], **begun))
        end
      end

      # @raise [NotFound]
      def find!(id) = table.where(id:).first || raise(NotFound, "There is no job #{id}.")

      # @return [Hash, nil] the latest of a rule
      def latest(rule_id, what: "run_on_match") = table.where(rule_id:, what:).reverse(:id).first

      # Has the timers of a rule built for all records there are.
      # @param past [String] what to do about moments that are past: "fire" or "skip"
      def build_timers(rule, past:, cause:)
        table.where(rule_id: rule.id, what: "timers", state: UNDER_WAY).update(state: "stopped", ended_at: cause.at)
        table.insert(
          what: "timers", rule_id: rule.id, version_id: rule.version_id, state: "waiting",
          total: rule.kind.task? ? root.task_rows.open.count : root.records.count_of(rule.kind.key),
          filter: dump("at" => Core::Reading.moment(cause.at), "past" => past), by: cause.who, at: cause.at
        )
      end

      # Has open tasks moved that are due on days which are off now.
      # @return [Hash] the row
      def redate(cause:) =
        begin_for_house("redate", "Open tasks move with the calendar", root.task_rows.due_after(day(cause)).count, {},
          cause)

      # Has a schedule fire for each record that meets its conditions.
      # @param due [Time] moment of the schedule
      def begin_schedule(rule, due:, now:)
        table.insert(
          what: "schedule", rule_id: rule.id, version_id: rule.version_id, state: "waiting", total: 0,
          filter: dump("due" => Core::Reading.moment(due)), by: nil, at: now
        )
      end

      # @return [Array<Hash>] what is under way of timers and of the house, and the latest of the house
      def of_house
        mine = table.where(what: %w[redate timers]).where(state: UNDER_WAY).order(:id).limit(50).all
        mine.any? ? mine : table.where(what: "redate").reverse(:id).limit(1).all
      end

      # @param what [String, nil] of this sort
      # @return [Boolean] whether a worker has long work to do
      def under_way?(what = nil) = !table.where({what:}.compact).where(state: UNDER_WAY).empty?

      # @param state [String] "stopped" by somebody, or "failed"
      # @return [Hash] the row
      def stop(id, now:, state: "stopped")
        ended = table.where(id:, state: UNDER_WAY).update(state:, ended_at: now)
        find!(id).tap { |job| tell(job, now) if ended.positive? }
      end

      # Takes a job for one bit of work; no other worker takes it in the meantime. In the caller's transaction.
      # @return [Hash, nil]
      def claim =
        table.where(state: UNDER_WAY).order(LONGEST_LAST, :id).limit(1).for_update.skip_locked.first
      # A table, or a change of many, may take half an hour, for which no timer of a rule shall wait to be built.
      LONGEST_LAST = Sequel.case({{what: %w[table_look table_in table_undo bulk bulk_undo index_words]} => 1}, 0)
      private_constant :LONGEST_LAST

      # @param ids [Array<Integer>] records
      # @return [Array<Integer>] those on which no job has run this version, now noted as taken by this one
      def take_records(job, ids)
        return [] if ids.empty?

        taken = db[:job_records].where(version_id: job[:version_id], record_id: ids).select_map(:record_id)
        free = ids - taken
        db[:job_records].import(%i[version_id record_id job_id], free.map { |id| [job[:version_id], id, job[:id]] })
        free
      end

      # @param place [Hash, nil] where to go on; nil when all were looked at
      def progress(job, looked_at:, started:, place:, now:)
        changes = {
          looked_at: job[:looked_at] + looked_at, started: job[:started] + started, place: dump(place),
          state: place ? "running" : "done"
        }
        changes[:ended_at] = now unless place
        table.where(id: job[:id]).update(changes)
        tell(job.merge(changes), now) unless place
      end

      # @param note [String] what it is about, in words
      # @param total [Integer] things to look at
      # @param filter [Hash]
      # @return [Hash] the row
      def begin_for_house(what, note, total, filter, cause)
        find!(
          table.insert(
            what:, note:, rule_id: nil, version_id: nil, state: "waiting", total:, filter: dump(filter), by: cause.who,
            at: cause.at
          )
        )
      end

      private

      def day(cause) = calendar.date_of(cause.at)

      # Whoever began to run a rule on records hears when that has ended.
      def tell(job, now)
        return unless job[:what] == "run_on_match" && job[:by]

        name = root.in_force.states.dig(job[:rule_id], :name)
        started, looked_at = job.values_at(:started, :looked_at).map { |count| Core::Show.count(count) }
        said = "“#{name}” #{ENDED.fetch(job[:state])} on #{started} of the #{looked_at} records that were looked at."
        root.notices.add([job[:by]], said, at: now, what: "job", rule_id: job[:rule_id])
      end
      ENDED = {
        "done" => "has run", "stopped" => "was stopped after it ran", "failed" => "has failed after it ran"
      }.freeze
      private_constant :ENDED
    end
  end
end
