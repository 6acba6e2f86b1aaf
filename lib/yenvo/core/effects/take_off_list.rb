# frozen_string_literal: true

module Yenvo
  module Core
    module Effects
      # Takes a record off a list.
      TakeOffList = Effects.define(:take_off_list, :record, :list)
    end
  end
end
