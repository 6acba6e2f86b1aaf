# frozen_string_literal: true

module Yenvo
  module Core
    module Effects
      # Puts a record on a list, unless it stands there. list: key of the kind of its entries; section: key, or nil for
      # the first.
      PutOnList = Effects.define(:put_on_list, :record, :list, :section)
    end
  end
end
