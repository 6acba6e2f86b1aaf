# frozen_string_literal: true

module Yenvo
  module Core
    class Schema
      # Somebody who can own records and be given tasks. key: a short handle that never changes; active: false once
      # they have left; team: key of the team, or nil; hours: what they work, in percent of the full hours.
      Person = Value.define(:key, :name, :active, team: nil, hours: 100)
    end
  end
end
