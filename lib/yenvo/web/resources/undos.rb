# frozen_string_literal: true

module Yenvo
  module Web
    # Taking back what runs did: one run, or all of a rule since a moment. What would be taken back, and what would stay
    # since people have changed it, is told before and after.
    class Undos < Base
      post "/preview" do
        may.write_rules!
        found = runs
        answer 200, {runs: found.size, items: items(root.undo.preview(found)), more: found.size == Store::Undo::MOST}
      end

      post "/?" do
        may.write_rules!
        found = runs
        answer 200,
          {runs: found.size, items: items(root.undo.run(found, cause:)), more: found.size == Store::Undo::MOST}
      end

      private

      def runs
        return [root.runs.find!(body_of_call["run"])] if body_of_call["run"]
        unless body_of_call["rule"] && body_of_call["since"]
          raise Store::Refused.at("run" => "Say which run, or which rule and since when.")
        end

        root.undo.since(root.rules.find!(body_of_call["rule"])[:id], RecordQuery.moment(body_of_call["since"]))
      end

      def items(items) = items.map { |item| {run: item.run, words: item.words, back: item.back, why: item.why} }
    end
  end
end
