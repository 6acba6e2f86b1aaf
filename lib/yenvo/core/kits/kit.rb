# frozen_string_literal: true

module Yenvo
  module Core
    module Kits
      # A kit as it is written; nothing in it is tied to a schema yet.
      # name: String; kind: key of the kind of record it is used on; count: one of COUNTS, forward from a start or back
      # from a target; from: "event", "now" or the key of a date field of the record (a field alone for a target);
      # day_off: what a date does that falls on a day off, where the task does not say; moves: one of MOVES, what open
      # tasks do when that field moves; phases: Array of Phase.
      Kit =
        Value.define(:name, :kind, :count, :from, :day_off, :moves, :phases) do
          # @return [Array<KitTask>] of all phases, in order; a task is called by its place here, from 1
          def tasks = phases.flat_map(&:tasks)

          # @return [KitTask, nil]
          def task(key) = tasks.find { |task| task.key == key }

          # @return [Array<KitTask>] those that stand under a task
          def parts(key) = tasks.select { |task| task.under == key }

          # @return [Integer, nil] the number people call a task by
          def number(key) = tasks.index { |task| task.key == key }&.succ

          # @return [Boolean] whether it counts from a field of the record
          def field? = !%w[event now].include?(from)

          # @return [Hash] as in a kit file
          def to_h
            {
              "format" => Kit::FORMAT, "name" => name, "record" => kind, "count" => count, "from" => from,
              "day_off" => day_off, "moves" => moves,
              "phases" => phases.map { |phase| {"name" => phase.name, "tasks" => phase.tasks.map(&:to_h)} }
            }
          end
        end

      Kit::FORMAT = "yenvo-kit/1"
      Kit::COUNTS = %w[forward back].freeze
      Kit::MOVES = %w[follow stay].freeze
      Kit::LIMITS = {name: 120, phases: 30, tasks: 200, ways: 10, steps: 10, bytes: 500_000}.freeze
    end
  end
end
