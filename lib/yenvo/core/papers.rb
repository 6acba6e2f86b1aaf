# frozen_string_literal: true

module Yenvo
  module Core
    # Documents with blanks that are filled in from a record: written here in Markdown and given out as PDF, or an
    # uploaded document that is given out as it came, with its blanks filled.
    module Papers
    end
  end
end
