# frozen_string_literal: true

module Yenvo
  module Core
    module Assignment
      # The base of ways that lead to somebody whom every record has. A rule about tasks means the record of the task.
      class RecordPerson < Way
        def pick(facts) = (@get ||= reference.getter).call(facts)
        def references = [reference]

        private

        # @return [String] key of the built-in field
        def key = raise(NotImplementedError)

        def reference =
          @reference ||= Reference.find(@kind.task? ? "#{Schema::Subjects::ABOUT}.#{key}" : key, @kind, @schema).first

        # @return [String] such as "deal"
        def noun = @kind.task? ? "record of the task" : @kind.label.downcase
      end
    end
  end
end
