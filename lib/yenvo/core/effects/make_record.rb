# frozen_string_literal: true

module Yenvo
  module Core
    module Effects
      # Makes a record. kind: key; values: by field; link_to: id of a record it is linked with, or nil.
      MakeRecord = Effects.define(:make_record, :kind, :values, :link_to)
    end
  end
end
