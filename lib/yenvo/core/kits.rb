# frozen_string_literal: true

module Yenvo
  module Core
    # Reusable sets of tasks in an order, with decisions between them.
    module Kits
    end
  end
end
