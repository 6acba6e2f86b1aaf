# frozen_string_literal: true

module Yenvo
  module Store
    # Rules: their drafts, versions and spans in force.
    class Rules < Base
      include Drafted

      keeps :rules

      def written = db[:rule_versions]
      def owner_column = :rule_id
      def noun = "rule"
      def read_body(plain) = Core::RuleReader.read!(plain)

      # @param rule [Core::Rule]
      # @return [Hash] the row of the new draft
      def make(rule, cause:)
        root.transaction do
          find!(insert_draft(rule, cause, state: "draft"))
        end
      end

      # Makes a version that never changes, and puts it in force from here on. Old records are not touched.
      # @param rule [Core::Rule]
      # @param stamp [Integer, nil] of the draft that the publisher saw
      # @return [Hash] the version
      # @raise [Core::InvalidRule] when the checks find something
      # @raise [Conflict] when somebody else wrote in the meantime
      # @param past [String] for a rule that time wakes, what to do about records whose moment is past: "skip" or "fire"
      def publish(id, rule, cause:, stamp: nil, past: "skip")
        rule = rule.pinned(schema)
        problems = Core::Checks.run(rule, schema)
        raise Core::InvalidRule.new(problems) if problems.any?

        root.transaction do
          row = lock(id, stamp)
          version, _ = insert_version(id, rule, cause)
          put_in_force(id, version, "published", cause)
          table.where(id:).update(
            **no_draft(row), version_id: version, state: "on", paused_because: nil, name: rule.name, kind: rule.kind
          )
          set_timers(id, version, past, cause)
          audited(row, written.where(id: version).first, rule, cause)
        end
      end

      # Moves a rule within the list: rules run in this order.
      # @param before [Integer, nil] the rule that shall come next; nil for the end
      def place(id, before:, cause:)
        root.transaction do
          ids = table.order(:position, :id).for_update.select_map(:id)
          ids.delete(id) or raise NotFound, "There is no rule #{id}."
          at = (before && ids.index(before)) || ids.size
          ids.insert(at, id)
          ids.each_with_index { |one, index| table.where(id: one).update(position: index + 1) }
          root.begin_epoch("order", who: cause.who, now: cause.at)
          audit("moved the rule “#{find!(id)[:name]}” to place #{at + 1}", id, cause)
        end
      end

      # Pauses a rule for a reason that is not a person's.
      # @return [Integer] the epoch from which it is off
      def stop(id, why, now:)
        epoch = root.begin_epoch("fuse", who: nil, now:)
        end_spans(id, epoch)
        table.where(id:).update(state: "paused", paused_because: why)
        words = "paused the rule “#{find!(id)[:name]}”: #{why}"
        root.audit.note("rules", words, who: nil, at: now, about: "rule #{id}")
        epoch
      end

      # Starts a rule by hand on records: an event of each, which this rule alone meets.
      # @param record_ids [Array<Integer>]
      # @return [Integer] on how many
      # @raise [Refused, NotFound]
      def start(id, record_ids, cause:)
        row = find!(id)
        name, kind = "“#{row[:name]}”", row[:kind]
        unless row[:state] == "on"
          refuse("rule", "#{name} is not on, so it cannot be started. Publish or resume it first.")
        end

        images = root.records.images(record_ids)
        wrong = images.values.find { |image| image["kind"] != kind }
        if wrong
          kinds = schema.subject(kind)&.plural&.downcase
          refuse("rule", "#{name} is about #{kinds}; “#{wrong["title"]}” is none.")
        end

        detail = {"rule" => id, "name" => row[:name]}
        root.transaction do
          images.values_at(*record_ids.uniq).compact.each do |image|
            root.journal.add_about("started", cause, {id: image["id"], kind:}, detail, image: image.except("kind"))
          end.size
        end
      end

      def pause(id, cause:)
        root.transaction do
          row = change_state(id, "on", "paused", "is not on, so it cannot be paused")
          end_spans(id, root.begin_epoch("paused", who: cause.who, now: cause.at))
          audit("paused the rule “#{row[:name]}”", id, cause)
          row
        end
      end

      # @param late [Boolean] whether timers that came due meanwhile fire now, marked late, or never
      def resume(id, cause:, late: false)
        root.transaction do
          row = change_state(id, "paused", "on", "is not paused, so it cannot be resumed")
          root.timers.release(id, late:, now: cause.at)
          put_in_force(id, row[:version_id], "resumed", cause)
          audit("resumed the rule “#{row[:name]}”", id, cause)
          row
        end
      end

      # After the set-up has changed, dates may fall on other days: the timers of all rules are worked out again.
      def retime(cause:)
        root.in_force.timed(root.epoch).rules.each do |rule|
          set_timers(rule.id, rule.version_id, "skip", cause) unless rule.timing.per == :rule
        end
        reschedule(cause)
        # What was set aside since its version did not fit may fit now.
        table.where(state: "on").select_map(:id).each { |id| root.timers.release(id, late: true, now: cause.at) }
      end

      private

      def audit(words, id, cause, **more) = root.audit.tell("rules", words, cause, "rule #{id}", **more)

      # @param row [Hash] of the rule before it
      # @param version [Hash] row of the new version
      # @return [Hash] the same
      def audited(row, version, rule, cause)
        was = row[:version_id] && written.where(id: row[:version_id]).first
        words = "published version #{version[:number]} of the rule “#{rule.name}”"
        changes = was ? Core::RuleChanges.words(read_body(load(was[:body])), rule, schema) : []
        told = changes.map { |one| {label: one["where"], before: nil, after: one["text"]} }
        audit(words, row[:id], cause, changes: told)
        version
      end

      # A schedule looks for its next day anew. One that has come due meanwhile, with no worker there or while its rule
      # is paused, fires for that first.
      def reschedule(cause)
        root.in_force.timed(root.epoch).rules.select { |rule| rule.timing.per == :rule }.each do |rule|
          row = root.timers.of_schedule(rule.id)
          next set_timers(rule.id, rule.version_id, "skip", cause) unless row
          next if row[:held_due] || (row[:due_at] && row[:due_at] <= cause.at)

          root.timers.update(row[:id] => {due_at: rule.timing.next_after(cause.at)})
        end
      end

      # A rule that time does not wake any more has no timers of its own; what runs left for later goes on.
      def set_timers(id, version, past, cause)
        rule = root.in_force.compiled([version])[version]
        db[:timers].where(rule_id: id, purpose: rule&.timing ? "rule" : %w[rule record task]).delete
        return unless rule&.timing
        return root.jobs.build_timers(rule, past:, cause:) unless rule.timing.per == :rule

        db[:timers].where(rule_id: id, purpose: Timers::OF_RULES).delete
        root.timers.add(
          rule_id: id, version_id: version, purpose: "rule", kind: rule.kind.key,
          due_at: rule.timing.next_after(cause.at), since: cause.at
        )
      end

      def put_in_force(id, version, what, cause)
        epoch = root.begin_epoch(what, who: cause.who, now: cause.at)
        end_spans(id, epoch)
        db[:rule_spans].insert(rule_id: id, version_id: version, from_epoch: epoch, to_epoch: nil)
      end

      def end_spans(id, epoch) = db[:rule_spans].where(rule_id: id, to_epoch: nil).update(to_epoch: epoch)

      def change_state(id, from, to, otherwise)
        row = table.where(id:).for_update.first || raise(NotFound, "There is no rule #{id}.")
        refuse("state", "“#{row[:name]}” #{otherwise}.") unless row[:state] == from

        table.where(id:).update(state: to, paused_because: nil)
        row.merge(state: to)
      end
    end
  end
end
