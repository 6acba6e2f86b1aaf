# frozen_string_literal: true

module Yenvo
  module Web
    # A draft as it stands on screen: its checks, what it would do to live records, and why. Nothing is written.
    class Tries < Base
      post "/check" do
        rule = Core::RuleReader.read!(body_of_call["rule"])
        problems, notes = Core::Checks.look(rule, root.schema)
        answer 200, {problems: problems.map(&:to_h), notes: notes}
      end

      post "/?" do
        RecordQuery.moment(body_of_call["after"]["changed"]) if body_of_call["after"]
        found = trying.over(show: body_of_call["show"], after: body_of_call["after"])
        answer 200, {looked_at: found.looked_at, counts: found.counts, rows: found.rows, next: found.rest}
      end

      post "/one" do
        facts, plan = trying.one(body_of_call["record_id"], change: change)
        raise Store::Refused.at("record_id" => "The trigger cannot meet this record as it is now.") unless plan

        answer 200, present.plan(plan, facts)
      rescue Core::Error => error
        # Errors of a kind of their own have answers of their own; a plain one says why an action cannot be planned.
        raise unless error.instance_of?(Core::Error)

        raise Store::Refused.at("record_id" => error.message)
      end

      private

      # What the record is thought to become, read like anything that is typed.
      def change
        given = body_of_call["change"] or return
        kind = root.schema.kind!(body_of_call["rule"]["record"])
        given.to_h { |key, value| [key, Core::Reading.value(kind.field(key) || raise(Store::Refused.at("change" => "There is no field #{key.to_s[0, 60].inspect} to change.")), value, root.schema)] }
      rescue Core::Unreadable => error
        raise Store::Refused.at("change" => error.message)
      end

      def trying
        may.write_rules!
        rule = Core::CompiledRule.bind!(Core::RuleReader.read!(body_of_call["rule"]), root.schema, id: body_of_call["rule_id"])
        Engine::Trying.new(root, rule, who: person[:key], now: now, filter: RecordQuery.filter(body_of_call["filter"]))
      end
    end
  end
end
