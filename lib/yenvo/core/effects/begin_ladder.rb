# frozen_string_literal: true

module Yenvo
  module Core
    module Effects
      # Begins what happens, step by step, to a task nobody finishes. on: "this" for the task of the event, or the
      # number of the action that makes the task.
      BeginLadder = Effects.define(:begin_ladder, :on)
    end
  end
end
