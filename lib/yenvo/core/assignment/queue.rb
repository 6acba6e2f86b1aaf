# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # A queue, from which a member of its team takes the task.
      class Queue < Way
        def self.takes = {"queue" => :queue}
        def self.may_fail? = false
        def self.words = "a queue"

        def check(path, problems)
          return check_kind(path, problems) if @schema.queues.key?(settings["queue"])

          problems << Problem.at(
            [*path, "queue"],
            "must name a queue (#{@schema.queues.keys.join(", ")}); there is no #{Show.quoted(settings["queue"])}"
          )
        end

        def pick(_facts) = nil

        # @return [String, nil] why the task cannot wait there
        def refuses(facts) = @schema.queue_refuses(queue, Schema::Subjects.kind_of(facts))

        def queue = settings["queue"]
        def described = "the queue #{@schema.queue_name(queue)}"

        private

        # Of what kind the record of a task is, rules about tasks see only when they run.
        def check_kind(path, problems)
          why = @kind && @schema.kinds[@kind.key] && @schema.queue_refuses(queue, @kind.key)
          problems << Problem.at([*path, "queue"], "must name another queue: #{why}") if why
        end
      end
    end
  end
end
