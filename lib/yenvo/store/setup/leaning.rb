# frozen_string_literal: true

module Yenvo
  module Store
    # What leans on something that an administrator takes away: rules, kits, worked-out fields. They are named first;
    # when it is taken away all the same, their owners hear of it.
    class Leaning < Base
      # @param field [String] of the form, where it is said what leans
      # @param words [String] what is taken away, such as "the field Value of deals"
      # @param whats [Array<String>] the same as in Core::Uses
      # @param leaning [Array<Hash>] what leans on it, where not all that does so counts
      # @yield takes it away
      # @return [Object] what the block gave
      # @raise [Refused] while something leans on it, unless it is to go anyway
      def taking_away(field, words, whats, anyway, cause, leaning: of(whats))
        refuse_while(leaning, field, words) if leaning.any? && !anyway
        result = yield
        tell(
          "#{words.sub(/\A\w/, &:upcase)} was taken away", "What leans on it may not run any more; look at it.",
          leaning, cause
        )
        result
      end

      # @return [Array<Hash>] as in RuleUses
      def of(whats) = whats.flat_map { |what| RuleUses.new(root).of(what) }.uniq

      # Each owner hears of all that is theirs at once.
      def tell(what, advice, leaning, cause)
        {"rule" => root.rules, "kit" => root.kits}.each do |noun, store|
          some = leaning.select { |one| one[:what] == noun }
          owners = store.owners(column(some, :id))
          some.group_by { |one| owners[one[:id]] }.each do |owner, all|
            next unless owner

            names = all.map { |one| "“#{one[:name]}”" }.join(", ")
            lean = (all.size > 1) ? "#{noun}s #{names} lean" : "#{noun} #{names} leans"
            rule_id = all[0][:id] if noun == "rule"
            root.notices.add(
              [owner], "#{what}. Your #{lean} on that. #{advice}", at: cause.at, what: "leaning", rule_id:
            )
          end
        end
      end

      private

      def refuse_while(leaning, field, words)
        named = leaning.first(8).map { |one| "“#{one[:name]}”" }.join(", ")
        lean = "#{named}#{" and others" if leaning.size > 8} #{(leaning.size == 1) ? "leans" : "lean"} on #{words}"
        said = "#{lean}. Change that first, or take it away all the same."
        raise Refused.new("Nothing was saved: #{said}", fields: {field => said}, leaning: true)
      end
    end
  end
end
