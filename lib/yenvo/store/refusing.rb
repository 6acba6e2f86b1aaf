# frozen_string_literal: true

module Yenvo
  module Store
    # Says no, at a place of the form.
    module Refusing
      private

      # @param place [String] of the form
      # @raise [Refused]
      def refuse(place, sentence) = raise(Refused.at(place => sentence))

      # @param noun [String] of what was looked for
      # @param advice [String] what to do
      # @raise [Refused] since there is no such thing
      def unknown(place, noun, given, advice) =
        refuse(place, "There is no #{noun} #{Core::Show.quoted(given)}; #{advice}.")
    end
  end
end
