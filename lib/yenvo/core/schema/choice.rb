# frozen_string_literal: true

module Yenvo
  module Core
    class Schema
      # One value of a choice field, or one stage, status or section. key: kept in records and rules; label: shown.
      Choice = Value.define(:key, :label)
    end
  end
end
