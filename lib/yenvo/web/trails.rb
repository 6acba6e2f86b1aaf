# frozen_string_literal: true

module Yenvo
  module Web
    # All runs, and on demand the skips of a record or rule.
    class Trails < Base
      MOST_ENTRIES = 150

      get "/?" do
        from = params["days"] && now - (number("days").clamp(1, 3_650) * 86_400)
        runs = (params["result"] == "skipped") ? [] : root.runs.list(rule: number("rule"), record: number("record"), state: state, from: from, before: number("before"))
        skips = skips?(params) ? skips(from) : []
        answer 200, {runs: present.runs(runs), skips: skips, kits: kits(from), next: (runs.size == 50) ? runs.last[:id] : nil, cut: skips.any? && @cut}
      end

      get "/why-not" do
        entry = root.journal.find_watched!(number("entry"))
        skip = Engine::WhyNot.new(root).one(entry, number("rule"))
        answer 200, present.why_not(entry, number("rule"), skip)
      end

      private

      # What kits did on a record, of themselves.
      def kits(from)
        return [] if params["record"].nil? || params["rule"] || params["before"] || ![nil, "all"].include?(params["result"])

        present.kit_steps(root.journal.of_kits(number("record"), from: from))
      end

      def state = {"ran" => "ran", "failed" => "failed", "undone" => "undone"}[params["result"]]
      def skips?(params) = %w[skipped all].include?(params["result"]) && (params["rule"] || params["record"])

      def skips(from)
        kind = params["rule"] && root.rules.find!(number("rule"))[:kind]
        entries = root.journal.watched(record: number("record"), kind: kind, from: from, limit: MOST_ENTRIES + 1)
        @cut = entries.size > MOST_ENTRIES
        present.skips(Engine::WhyNot.new(root).skips(entries.first(MOST_ENTRIES), rule_id: number("rule")))
      end
    end
  end
end
