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
          return if @schema.queues.key?(settings["queue"])

          problems << Problem.at(
            [*path, "queue"],
            "must name a queue (#{@schema.queues.keys.join(", ")}); there is no #{Show.quoted(settings["queue"])}"
          )
        end

        def pick(_facts) = nil
        def queue = settings["queue"]
        def described = "the queue #{@schema.queues[queue]}"
      end
    end
  end
end
