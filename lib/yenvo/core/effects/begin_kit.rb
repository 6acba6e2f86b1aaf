# frozen_string_literal: true

module Yenvo
  module Core
    module Effects
      # Begins a kit. kit: CompiledKit; anchor: Date or Time from which its dates count, or nil; tasks: PlannedTasks
      # with which it begins, nil where the record is another, which has to be looked at first.
      BeginKit =
        Effects.define(:begin_kit, :record, :kit, anchor: nil, tasks: nil) do
          def own_kit? = !tasks.nil? && tasks.any? && tasks.none? { |task| task.opens || task.paper }
          alias_method :plain?, :own_kit?

          def task_count = tasks ? tasks.size : 0
        end
    end
  end
end
