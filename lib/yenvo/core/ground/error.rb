# frozen_string_literal: true

module Yenvo
  module Core
    # The root of all that core raises. The message is a sentence for people; +details+ stays readable as data.
    class Error < StandardError
      attr_reader :details

      # @param message [String] what is wrong, where, what to do
      # @param details [Hash] the same as data
      def initialize(message = nil, **details)
        super(message)
        @details = details
      end
    end
  end
end
