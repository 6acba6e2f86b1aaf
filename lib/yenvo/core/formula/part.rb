# frozen_string_literal: true

module Yenvo
  module Core
    class Formula
      # A piece of a formula that is understood. type: :number, :text, :date, :datetime, :yes_no, :choice, :person or
      # :empty; call: Proc from Facts and an image to the value or nil; needs: Array of Need; day: whether today is in
      # it; field: for a choice, the field whose keys it holds; literal: the text or number of a literal, nil for all
      # else; slide: by how much it goes up every day and every working day when it does nothing else from day to day,
      # [0, 0] when it stays.
      Part = Value.define(:type, :call, :needs, :day, field: nil, literal: nil, slide: nil) do
        # @return [Array(Numeric, Numeric), nil] nil when it changes from day to day in another way
        def pace = slide || (day ? nil : [0, 0])
      end
    end
  end
end
