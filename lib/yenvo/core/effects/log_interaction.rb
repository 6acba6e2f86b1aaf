# frozen_string_literal: true

module Yenvo
  module Core
    module Effects
      # Logs a note, call, e-mail, letter or meeting.
      LogInteraction = Effects.define(:log_interaction, :record, :way, :text)
    end
  end
end
