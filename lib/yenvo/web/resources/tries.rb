# frozen_string_literal: true

module Yenvo
  module Web
    # A draft as it stands on screen: its checks, what it would do to live records, and why. Nothing is written.
    class Tries < Base
      post "/check" do
        rule = Core::RuleReader.read!(body_of_call["rule"])
        problems, notes = Core::Checks.look(rule, root.schema)
        answer 200, {problems: problems.map(&:to_h), notes:}
      end

      post "/?" do
        RecordQuery.moment(body_of_call["after"]["changed"]) if body_of_call["after"]
        found = trying.over(show: body_of_call["show"], after: body_of_call["after"])
        answer 200, {looked_at: found.looked_at, counts: found.counts, rows: found.rows, next: found.rest}
      end

      # What publishing would do about moments that are past.
      post "/past" do
        may.write_rules!
        found = Engine::PastMoments.new(root, rule_of_call, now:).count
        answer 200, {timer: !rule_of_call.timing.nil?, per: rule_of_call.timing&.per, **found.to_h}
      end

      # Days of a schedule, in words and as the next ten dates.
      post "/recurrence" do
        starts = Date.iso8601(body_of_call["starts"])
        unless starts.year.between?(2000, 2200)
          raise Store::Refused.at("starts" => "From takes a day between 2000 and 2200.")
        end

        minutes =
          Core::ClockTime.parse(body_of_call["at"]) ||
          raise(Store::Refused.at("at" => "At takes a time of day such as 08:00."))
        found, wrong =
          Core::Recurrence.read(
            body_of_call["recurs"], starts:, minutes:, calendar: root.calendar,
            day_off: body_of_call["day_off"] || "stays"
          )
        answer 200,
          {
            problem: wrong, words: found && Core::RecurrenceWords.of(found.source, starts),
            next: found ? found.after([now, found.first_look].max, 10).map { |at| Core::Reading.moment(at) } : []
          }
      rescue Date::Error
        raise Store::Refused.at("starts" => "From takes a date such as 2026-12-01.")
      end

      post "/one" do
        facts, plan = trying.one(body_of_call["record_id"], change:)
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
        given.to_h do |key, value|
          [
            key,
            Core::Reading.value(
              kind.field(key) ||
                raise(Store::Refused.at("change" => "There is no field #{key.to_s[0, 60].inspect} to change.")),
              value, root.schema
            )
          ]
        end
      rescue Core::Unreadable => error
        raise Store::Refused.at("change" => error.message)
      end

      def rule_of_call =
        @rule_of_call ||=
          Core::CompiledRule.bind!(written_rule, root.schema, id: body_of_call["rule_id"])

      def written_rule = Core::RuleReader.read!(body_of_call["rule"])

      def trying
        may.write_rules!
        Engine::Trying.new(root, rule_of_call, who: person[:key], now:, filter:)
      end

      # What narrows records says nothing of tasks, so it is not passed over in silence.
      def filter
        RecordQuery.filter(body_of_call["filter"]).tap do |wanted|
          next if !rule_of_call.kind.task? || wanted.values.all? { |one| one.nil? || one.empty? }

          raise Store::Refused.at(
            "filter" => "A rule about tasks is tried on the newest tasks. Leave out the filter, which is for records."
          )
        end
      end
    end
  end
end
