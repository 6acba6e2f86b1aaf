# frozen_string_literal: true

module Yenvo
  module Core
    module Effects
      # Tells somebody by a notice. persons: keys; record: what it is about.
      TellPersons = Effects.define(:tell_persons, :record, :persons, :text)
    end
  end
end
