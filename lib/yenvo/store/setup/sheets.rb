# frozen_string_literal: true

module Yenvo
  module Store
    # What forms and doors have alike: each has a name, a sheet that one person at a time writes, and is taken away and
    # brought back. Whoever includes it says its +table+ and its +noun+.
    module Sheets
      include FormWords
      include Saving

      # @return [Array<Hash>] rows, those taken away too
      def all = table.order(:name).all

      # @raise [NotFound]
      def find!(key) = used(key).first || raise(NotFound, none(key))

      # @raise [NotFound, Refused]
      def bring_back(key, cause:)
        row = away!(key)
        free_name(row[:name], row)
        set(row, {retired_at: nil}, cause)
      end

      private

      def set(row, columns, cause) = save(cause) { table.where(key: row[:key]).update(columns) }
      def used(key) = table.where(key: key.to_s, retired_at: nil)
      def away(key) = table.where(key: key.to_s).exclude(retired_at: nil)
      def away!(key) = away(key).first || raise(NotFound, none(key))
      def none(key) = "There is no #{noun} #{Core::Show.quoted(key.to_s)}."

      # @param most [Integer]
      # @return [String] a key for something new
      def fresh_key(name, most)
        refuse("name", "At most #{most} #{noun}s.") if table.count >= most
        free_key(name, table.select_map(:key))
      end

      # @return [Core::Schema::Kind] of which it makes records
      def makes(kind) = schema.kind(kind.to_s) || refuse("kind", "It makes records of a kind; choose one.")

      # @param seen [String, nil] when it was written on which a change rests
      # @raise [Conflict]
      def same!(row, seen)
        return if seen.nil? || Core::Reading.moment(row[:written_at]) == seen

        raise Conflict.new(
          "#{schema.name_of(row[:written_by])} has changed this #{noun} in the meantime, so nothing was saved. What " \
          "you wrote still stands here; load the page anew to see theirs.", conflicts: []
        )
      end

      # @param row [Hash, nil] as it is
      # @return [String]
      def free_name(given, row)
        name = text(given, "name", "The name", 120)
        refuse("name", "There is a #{noun} #{name} already.") if taken?(name, row)
        name
      end

      def taken?(name, row) = others(row).select_map(:name).any? { |one| one.casecmp?(name) }
      def others(row) = table.where(retired_at: nil).exclude(key: row && row[:key])
    end
  end
end
