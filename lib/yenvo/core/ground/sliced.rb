# frozen_string_literal: true

module Yenvo
  module Core
    # Lets go of some members at once, as a Hash does.
    module Sliced
      # @param names [Array<Symbol>]
      # @return [Hash{Symbol => Object}]
      def slice(*names) = names.to_h { |name| [name, public_send(name)] }
    end
  end
end
