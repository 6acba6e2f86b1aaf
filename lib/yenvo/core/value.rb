# frozen_string_literal: true

module Yenvo
  module Core
    # Makes small frozen value classes (Ruby 3.1 has no Data).
    module Value
      # @param names [Array<Symbol>] the members; all must be given to +new+, none more
      # @yield a class body
      # @return [Class] members are readable and compared by value; +with+ makes a changed copy
      def self.define(*names, &body)
        Struct.new(*names, keyword_init: true) do
          define_method(:initialize) do |**given|
            names.each { |name| given.fetch(name) }
            super(**given)
            freeze
          end

          def with(**changes) = self.class.new(**members.to_h { |name| [name, self[name]] }, **changes)
          class_eval(&body) if body
        end
      end
    end
  end
end
