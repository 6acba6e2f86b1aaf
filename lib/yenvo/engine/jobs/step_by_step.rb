# frozen_string_literal: true

module Yenvo
  module Engine
    # How long work of the house moves one thing: by itself, so that what is refused leaves the others alone.
    module StepByStep
      REFUSALS = [Store::Conflict, Store::NotFound, Store::Refused, Core::Error].freeze

      # @param root [Store::Root]
      def initialize(root)
        @root = root
      end

      private

      # @yieldreturn [Boolean] whether it was moved
      # @return [Boolean] false also when it was refused
      def moved?(&)
        @root.db.transaction(savepoint: true, &)
      rescue *REFUSALS
        false
      end
    end
  end
end
