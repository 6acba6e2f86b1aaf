# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # Somebody sends a form; the record that it makes is met.
      class FormSent < CameIn
        def self.door = "form"
        def self.words = "comes in by a form"

        def sentence = "#{kind.label} sent by form"
      end
    end
  end
end
