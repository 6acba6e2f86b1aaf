# frozen_string_literal: true

module Yenvo
  module Web
    # All runs, and on demand the skips of a record or rule.
    class Trails < Base
      MOST_ENTRIES = 150

      get "/?" do
        from, till = span
        runs =
          (
            if params["result"] == "skipped"
              []
            else
              root.runs.list(
                rule: number("rule"), record: number("record"), state:, from:, till:,
                before: number("before")
              )
            end
          )
        skips = skips?(params) ? skips(from, till) : []
        answer 200,
          {
            runs: present.runs(sight.about(runs)), skips:, kits: kits(from),
            next: (runs.size == 50) ? runs.last[:id] : nil, next_skip: @next_skip
          }
      end

      # The runs as a table, all pages of it.
      get "/table" do
        from, till = span
        chosen = {rule: number("rule"), record: number("record"), state:, from:, till:, limit: TABLE_PAGE}
        give_table("Runs", Present::RUN_HEADS) do |before|
          runs = root.runs.list(**chosen, before:)
          [present.run_cells(sight.about(runs)), (runs.size == TABLE_PAGE) ? runs.last[:id] : nil]
        end
      end
      TABLE_PAGE = 500
      private_constant :TABLE_PAGE

      get "/why-not" do
        entry = sight.about([root.journal.find_watched!(number("entry"))]).first
        raise Store::NotFound, "There is no entry #{number("entry")} in the journal." unless entry

        skip = Engine::WhyNot.new(root).one(entry, number("rule"))
        answer 200, present.why_not(entry, number("rule"), skip)
      end

      private

      # @return [Array(Time, nil)] from the last so many days, or from the first to the end of the last of two days
      def span
        return now - (number("days").clamp(1, 3_650) * 86_400), nil if params["days"]

        zone = root.calendar.zone
        first, last = %w[from till].map { |name| day(name) }
        [first && zone.midnight(first), last && zone.midnight(last + 1)]
      end

      def day(name)
        params[name] &&
          Date.iso8601(
            Core::Reading.value(Core::Schema::Field.of(name, name.capitalize, "date"), params[name], root.schema)
          )
      rescue Core::Unreadable => error
        raise Store::Refused.at(name => error.message)
      end

      # What kits did on a record, of themselves.
      def kits(from)
        if params["record"].nil? || params["rule"] || params["before"] || ![nil, "all"].include?(params["result"])
          return []
        end
        return [] unless sight.all? || sight.record?(number("record"))

        present.kit_steps(root.journal.of_kits(number("record"), from:))
      end

      def state = {"ran" => "ran", "failed" => "failed", "undone" => "undone"}[params["result"]]
      def skips?(params) = %w[skipped all].include?(params["result"]) && params.values_at("rule", "record").any?

      def skips(from, till)
        kind = params["rule"] && root.rules.find!(number("rule"))[:kind]
        span = {from:, till:, before: number("skips_before"), limit: MOST_ENTRIES + 1}
        entries, further = entries(kind, **span)
        @next_skip = (entries.size > MOST_ENTRIES) ? entries[MOST_ENTRIES - 1][:id] : further
        seen = sight.about(entries.first(MOST_ENTRIES))
        present.skips(Engine::WhyNot.new(root).skips(seen, rule_id: number("rule")))
      end

      # What a rule may have met. That of a rule about tasks is looked for among all that happened to them.
      def entries(kind, **span)
        record = number("record")
        tasks = kind == Core::Schema::Subjects::TASK
        return root.journal.watched_tasks(**span) if tasks && record.nil?

        [root.journal.watched(record:, kind: tasks ? nil : kind, **span), nil]
      end
    end
  end
end
