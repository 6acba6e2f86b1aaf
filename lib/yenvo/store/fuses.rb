# frozen_string_literal: true

module Yenvo
  module Store
    # Stops rules that run too often. A rule whose fuse blows is paused, says so, and tells its owner.
    class Fuses < Part
      # @param rule [Core::CompiledRule]
      # @param record_id [Integer, nil]
      # @param pending [Array<Integer>] records of runs of this rule that are about to be written
      # @return [Boolean] whether one more run may be; when not, the fuse has blown and the rule is paused
      def hold?(rule, record_id, now:, pending: [])
        limits = rule.rule.fuse or return true
        why = over(rule, limits, record_id, now, pending) or return true

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
      def kept_from(rule_id, entry) = db[:fuses].where(rule_id: rule_id).where(Sequel[:epoch] > entry[:epoch]).order(:id).first

      private

      def over(rule, limits, record_id, now, pending)
        hour = limits["per_hour"]
        return "ran #{hour} times within an hour" if hour && runs(rule, now - 3_600).limit(hour).count + pending.size >= hour

        day = limits["per_record_day"]
        return unless day && record_id && runs(rule, now - 86_400).where(record_id: record_id).limit(day).count + pending.count(record_id) >= day

        "ran #{day} times within a day for one #{rule.kind.noun}"
      end

      # What people start themselves does not count.
      def runs(rule, since) = db[:runs].where(rule_id: rule.id, started: false).where(Sequel[:at] > since).from_self

      def blow(rule, why, now)
        row = db[:rules].where(id: rule.id).for_update.first
        return unless row && row[:state] == "on"

        sentence = "Its fuse blew: it #{why}."
        epoch = root.rules.stop(rule.id, sentence, now: now)
        db[:fuses].insert(rule_id: rule.id, epoch: epoch, blown_at: now, why: why)
        root.notices.add([row[:owner]].compact, "“#{row[:name]}” has paused itself. #{sentence} Look at its runs, mend it, and resume it.", at: now, rule_id: rule.id)
      end
    end
  end
end
