# frozen_string_literal: true

module Yenvo
  module Core
    module Effects
      # Sets fields. record: its id, or [:made, number] for what an earlier action of the row makes; values: by field,
      # in plain form; anew: by field, how a value is worked out from the record as it is when it is written.
      ChangeRecord = Effects.define(:change_record, :record, :values, anew: nil)
    end
  end
end
