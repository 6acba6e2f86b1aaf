# frozen_string_literal: true

module Yenvo
  module Store
    # Says no, at a place of the form.
    module Refusing
      private

      # @param place [String] of the form
      # @raise [Refused]
      def refuse(place, sentence) = raise(Refused.at(place => sentence))
    end
  end
end
