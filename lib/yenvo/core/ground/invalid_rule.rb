# frozen_string_literal: true

module Yenvo
  module Core
    # A rule that cannot be read or published. +problems+ holds all of them, found in one pass.
    class InvalidRule < Error
      # @param problems [Array<Problem>]
      def initialize(problems) = super("The rule has #{Show.some(problems.size, "problem")}.", problems:)

      def problems = details.fetch(:problems)
    end
  end
end
