# frozen_string_literal: true

module Yenvo
  module Store
    # Versions of texts and papers, as rules ask for them (see Core::Papers::Library). A version never changes, so that
    # what was read once is kept.
    class Library < Base
      # Versions kept, and bytes of them together.
      MOST = 200
      MOST_BYTES = 40_000_000

      def initialize(root)
        super
        @kept = {}
        @lock = Mutex.new
      end

      # @return [Hash{String => String}, nil]
      def text(key, number) =
        fetch([:text_versions, key, number]) do |row|
          {"subject" => row[:subject], "text" => row[:body]}
        end

      # @return [Array(String, String), nil]
      def paper(key, number) =
        fetch([:paper_versions, key, number]) do |row|
          [row[:form], (row[:form] == "markdown") ? row[:body].dup.force_encoding("UTF-8") : row[:body]]
        end

      # Lets go of what was read, where a version was taken back that had been read already.
      def forget = @lock.synchronize { @kept.clear }

      # Nothing of what it holds, which may be megabytes.
      def inspect = "#<#{self.class}>"

      private

      def fetch(place)
        known = @lock.synchronize { @kept[place] }
        return known if known

        table, key, number = place
        row = db[table].where(key:, number:).first or return
        yield(row).freeze.tap { |found| @lock.synchronize { keep(place, found) } }
      end

      def keep(place, found)
        @kept[place] = found
        @kept.shift while too_many?
      end

      def too_many? = @kept.size > MOST || (bytes > MOST_BYTES && @kept.size > 1)
      def bytes = @kept.each_value.sum { |one| one.is_a?(Array) ? one[1].bytesize : 1_000 }
    end
  end
end
