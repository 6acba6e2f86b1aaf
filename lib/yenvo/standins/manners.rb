# frozen_string_literal: true

module Yenvo
  module Standins
    # What a stand-in does with what comes next, so that it can be seen how Yenvo takes it: "take", "refuse" (for good),
    # "put_off", "slow" (it answers after a while) or "dead" (nobody answers).
    module Manners
      ALL = %w[take refuse put_off slow dead].freeze
      SLOW_SECONDS = 3.0

      def manner = @manner || "take"

      # @raise [ArgumentError]
      def manner=(name)
        raise ArgumentError, "A stand-in can #{ALL.join(", ")}." unless ALL.include?(name)

        @manner = name
      end

      private

      # Nobody waits for it but whoever sent something.
      def dawdle = sleep(@slow || SLOW_SECONDS)
    end
  end
end
