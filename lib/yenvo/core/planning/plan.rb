# frozen_string_literal: true

module Yenvo
  module Core
    # What a rule would do about an event, and why. state: :run or :skip; code: why it is skipped, one of
    # :trigger, :own_event, :chain, :only_if, :no_branch, :once, nil for a run; why: the same as a sentence, for a run
    # what decided; branches: labels of the rows hit, such as ["2"] or ["otherwise"]; tests: Array of
    # [label of the row, TestResult]; steps: Array of [label of the row, number of the action, Effects::Step].
    Plan =
      Value.define(:state, :code, :why, :branches, :tests, :steps) do
        def self.skip(code, why, tests = []) =
          new(state: :skip, code:, why:, branches: [], tests:, steps: [])

        def run? = state == :run

        # @return [Array] the steps that make tasks
        def tasks = steps.select { |_, _, step| step.is_a?(PlannedTask) }

        # @return [Integer] tasks that it makes, those with which its kits begin among them
        def task_count = steps.sum { |_, _, step| step.task_count }

        # @return [Array] the steps that begin a kit on the record itself
        def kits = steps.select { |_, _, step| step.own_kit? }

        # @return [Boolean] whether it makes tasks about the record, by itself or by a kit, and nothing else, as most do
        def plain? = steps.all? { |_, _, step| step.plain? }

        # @return [Array<Hash>] the tests as plain values, each row flat: row, depth of nesting, met, label, phrase,
        #   seen
        def plain_tests = tests.flat_map { |row, result| flat(row, result, 0) }

        # @return [Array<String>] the conditions that hold and on which it hangs, in words; of "none", what must not
        #   hold behind "unless"
        def depends = tests.flat_map { |_, result| result.met ? held(result, true) : [] }.uniq

        private

        def held(result, wanted)
          unless result.mode
            return (result.met == wanted) ? ["#{"unless " unless wanted}#{result.label} #{result.phrase}".strip] : []
          end

          result.items.flat_map { |item| held(item, (result.mode == "none") ? !wanted : wanted) }
        end

        def flat(row, result, depth)
          return [result.to_h.merge!("row" => row, "depth" => depth)] unless result.mode
          return result.items.flat_map { |item| flat(row, item, depth) } if result.mode == "all" && depth.zero?

          [
            {
              "row" => row, "depth" => depth, "met" => result.met, "label" => "#{result.mode} of these", "phrase" => "",
              "seen" => ""
            },
            *result.items.flat_map { |item| flat(row, item, depth + 1) }
          ]
        end
      end
  end
end
