# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # Who gets a task, and why. person: key or nil; queue: key or nil; reason: a sentence for the run.
      Pick = Value.define(:person, :queue, :reason)
    end
  end
end
