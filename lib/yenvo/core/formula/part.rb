# frozen_string_literal: true

module Yenvo
  module Core
    class Formula
      # A piece of a formula that is understood. type: :number, :text, :date, :datetime, :yes_no, :choice, :person or
      # :empty; call: Proc from Facts and an image to the value or nil; needs: Array of Need; day: whether today is in it;
      # field: for a choice, the field whose keys it holds; literal: the text of a literal, nil for all else.
      Part = Value.define(:type, :call, :needs, :day, field: nil, literal: nil)
    end
  end
end
