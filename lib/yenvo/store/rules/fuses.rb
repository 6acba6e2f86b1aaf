# frozen_string_literal: true

module Yenvo
  module Store
    # Stops rules that run too often. A rule whose fuse blows is paused, says so, and tells its owner.
    class Fuses < Base
      # How often rules ran lately. hour: Hash of rule id to runs; day: Hash of [rule id, record id] to runs.
      Counts = Core::Value.define(:hour, :day)

      # Counts for all of a turn at once.
      # @param pairs [Array<Array(Integer, Integer)>] rule and record
      # @return [Counts]
      def counts(pairs, now:)
        return Counts.new(hour: {}, day: {}) if pairs.empty?

        # What people start themselves does not count.
        runs = db[:runs].where(started: false)
        hour = runs.where(rule_id: pairs.map(&:first).uniq).where(Sequel[:at] > now - 3_600)
        day = runs.where(%i[rule_id record_id] => pairs.uniq).where(Sequel[:at] > now - 86_400)
        Counts.new(
          hour: hour.group_and_count(:rule_id).as_hash(:rule_id, :count),
          day: day.group_and_count(:rule_id, :record_id).as_hash(%i[rule_id record_id], :count)
        )
      end

      # Lets one more run be, unless that is too many: then the fuse blows, the rule is paused, and its owner is told.
      # @param rule [Core::CompiledRule]
      # @param record_id [Integer, nil]
      # @param counts [Counts, nil] read anew when not given
      # @param pending [Array<Integer>] records of runs of this rule that are about to be written
      # @return [Boolean] whether the run may be
      def let_run(rule, record_id, now:, counts: nil, pending: [])
        return true unless rule.rule.fuse

        why = over(rule, record_id, counts || counts([[rule.id, record_id || 0]], now:), pending) or return true

        blow(rule, why, now)
        false
      end

      # @param rule_ids [Array<Integer>]
      # @return [Hash{Integer => Hash}] by rule, the latest fuse that blew: epoch, blown_at, why
      def latest(rule_ids)
        return {} if rule_ids.empty?

        db[:fuses].where(rule_id: rule_ids.uniq).order(:id).select(:rule_id, :epoch, :blown_at, :why).as_hash(:rule_id)
      end

      # @param entry [Hash] row of the journal
      # @return [Hash, nil] the fuse that kept a rule from an entry which had happened before it blew
      def kept_from(rule_id, entry) =
        db[:fuses].where(rule_id:).where(Sequel[:epoch] > entry[:epoch]).order(:id).first

      private

      def over(rule, record_id, counts, pending)
        hour, day = rule.rule.fuse.values_at("per_hour", "per_record_day")
        return "ran #{hour} times within an hour" if hour && counts.hour.fetch(rule.id, 0) + pending.size >= hour
        return unless day && record_id && counts.day.fetch([rule.id, record_id], 0) + pending.count(record_id) >= day

        "ran #{day} times within a day for one #{rule.kind.noun}"
      end

      def blow(rule, why, now)
        row = db[:rules].where(id: rule.id).for_update.first
        return unless row && row[:state] == "on"

        sentence = "Its fuse blew: it #{why}."
        epoch = root.rules.stop(rule.id, sentence, now:)
        db[:fuses].insert(rule_id: rule.id, epoch:, blown_at: now, why:)
        root.notices.add(
          [row[:owner]].compact,
          "“#{row[:name]}” has paused itself. #{sentence} Look at its runs, mend it, and resume it.", at: now,
          what: "failed",
          rule_id: rule.id
        )
      end
    end
  end
end
