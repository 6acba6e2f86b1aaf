# frozen_string_literal: true

module Yenvo
  module Core
    module Effects
      # Lets a save not be. text: a sentence for whoever saves; fields: keys of those at which it stands, none for the
      # whole record. Whoever saves asks for +refusal+ first; after the save there is nothing left to stop.
      StopSave =
        Effects.define(:stop_save, :text, :fields) do
          def refusal = fields.empty? ? {"record" => text} : fields.to_h { |key| [key, text] }
        end
    end
  end
end
