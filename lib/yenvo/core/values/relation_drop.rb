# frozen_string_literal: true

require "liquid"

module Yenvo
  module Core
    # The first word of a relation inside a text, as "ticket" in {% for one in record.ticket.boat %}.
    class RelationDrop < Liquid::Drop
      # @yieldparam field [String] the second word
      # @yieldreturn [Array<RecordDrop>, nil]
      def initialize(&rows)
        super()
        @rows = rows
      end

      def liquid_method_missing(field) = @rows.call(field)
      def to_s = ""
    end
  end
end
