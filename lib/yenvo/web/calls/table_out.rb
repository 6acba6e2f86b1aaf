# frozen_string_literal: true

require "csv"

module Yenvo
  module Web
    # A table that leaves the house as CSV (RFC 4180, UTF-8), page by page, so that a long one takes no more memory than
    # a short one. What breaks on the way breaks the answer off, so that nobody takes a part for the whole.
    class TableOut
      TYPE = "text/csv; charset=utf-8; header=present"

      # @param heads [Array<String>]
      # @yieldparam place [Object, nil] where to go on
      # @yieldreturn [Array(Array<Array>, Object)] rows, and where to go on, nil at the end
      def initialize(heads, &page)
        @heads = heads
        @page = page
      end

      # Rack.
      # @yieldparam text [String]
      def each
        yield lines([@heads])
        place = nil
        loop do
          rows, place = @page.call(place)
          yield lines(rows) if rows.any?
          break unless place
        end
      end

      private

      def lines(rows)
        CSV.generate(row_sep: "\r\n") do |csv|
          rows.each { |cells| csv << cells.map { |cell| Core::Cell.harmless(cell) } }
        end
      end
    end
  end
end
