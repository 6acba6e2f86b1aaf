# frozen_string_literal: true

module Yenvo
  module Core
    # One test of a run with the value it saw. met: Boolean; label: the left side; phrase: what was asked;
    # seen: the value as people read it, "empty" for none; mode, items: for a group, how it holds and its tests.
    TestResult = Value.define(:met, :label, :phrase, :seen, :mode, :items) do
      def self.group(met, mode, items) = new(met:, label: nil, phrase: nil, seen: nil, mode:, items:)

      # @return [TestResult, nil] the first test that decides why this one is not met
      def culprit
        return self unless mode

        found = (mode == "none") ? items.find(&:met) : items.find { |item| !item.met }
        found && (found.mode ? found.culprit || found : found)
      end

      # @return [String] such as "Country is Norway"
      def seen_phrase = (phrase == "changed") ? "#{label} has not changed" : "#{label} is #{seen}"

      def to_h
        return {"met" => met, "mode" => mode, "items" => items.map(&:to_h)} if mode

        {"met" => met, "label" => label, "phrase" => phrase, "seen" => seen}
      end
    end
  end
end
