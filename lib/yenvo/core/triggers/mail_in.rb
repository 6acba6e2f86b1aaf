# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # Somebody writes a mail to an address of the house; the record that it makes is met.
      class MailIn < CameIn
        def self.door = "mail"
        def self.words = "comes in by mail"

        def sentence = "#{kind.label} made of a mail"
      end
    end
  end
end
