# frozen_string_literal: true

module Yenvo
  module Core
    module Effects
      # Fills in a paper and attaches it. record: the one it is attached to, or nil for a task; on: that task, "this" or
      # the number of the action that makes it; name: of the file; paper, number: key of the paper and its version;
      # filled: what it comes to, as it is printed later.
      MakePaper =
        Effects.define(:make_paper, :record, :on, :name, :paper, :number, :filled) do
          # @return [Hash] as it is kept until it is printed
          def filling = {"paper" => paper, "number" => number, "title" => words, "filled" => filled}
        end
    end
  end
end
