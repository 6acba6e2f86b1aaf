# frozen_string_literal: true

module Yenvo
  module Core
    module Kits
      # Some tasks of a kit under one name. name: String; tasks: Array of KitTask.
      Phase = Value.define(:name, :tasks)
    end
  end
end
