# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # Who gets a task, and why. person: key or nil; queue: key or nil; reason: a sentence for the run.
      Pick =
        Value.define(:person, :queue, :reason) do
          alias_method :assignee, :person

          # @return [String] of the person or the queue
          def name(schema) = schema.called(person, queue)
        end
    end
  end
end
