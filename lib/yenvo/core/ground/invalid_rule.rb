# frozen_string_literal: true

module Yenvo
  module Core
    # A rule that cannot be read or published. +problems+ holds all of them, found in one pass.
    class InvalidRule < Error
      # @param problems [Array<Problem>]
      def initialize(problems)
        count = problems.size
        super("The rule has #{count} #{(count == 1) ? "problem" : "problems"}.", problems:)
      end

      def problems = details.fetch(:problems)
    end
  end
end
