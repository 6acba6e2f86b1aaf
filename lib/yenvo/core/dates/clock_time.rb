# frozen_string_literal: true

module Yenvo
  module Core
    # A wall-clock time of day, written "09:00".
    module ClockTime
      FORM = /\A([01]\d|2[0-3]):([0-5]\d)\z/

      # @return [Integer, nil] minutes since midnight; nil when the text is none
      def self.parse(text) = (FORM.match(text) { |parts| (parts[1].to_i * 60) + parts[2].to_i } if text.is_a?(String))

      # @return [String] such as "09:00"
      def self.show(minutes) = format("%02d:%02d", *minutes.divmod(60))
    end
  end
end
