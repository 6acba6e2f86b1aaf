# frozen_string_literal: true

module Yenvo
  module Store
    # Texts for notes, put in with a few keys. A blank is written as three or more underscores; a text may hold a !code.
    class Presets < Base
      keeps :presets

      MOST = 100

      # @return [Array<Hash>] by name
      def all = table.order(:name).all

      # @param id [Integer, nil] nil for a new one
      # @param given [Hash] name, text
      # @raise [Refused, NotFound]
      def save(id, given, cause:)
        row = read(given)
        root.transaction do
          if id
            find!(id)
            table.where(id:).update(row)
          else
            refuse("name", "There are #{MOST} presets already. Take one away first.") if table.count >= MOST
            id = table.insert(**row, by: cause.who, at: cause.at)
          end
          find!(id)
        end
      rescue Sequel::UniqueConstraintViolation
        refuse("name", "There is a preset “#{row[:name]}” already; choose another name.")
      end

      # @return [Hash] the row
      # @raise [NotFound]
      def find!(id) =
        table.where(id:).first || raise(NotFound, "There is no preset #{id}; it may have been taken away.")

      def remove(id) = table.where(id:).delete

      private

      # @return [Hash] columns
      def read(given)
        name, text = given.values_at("name", "text").map { |words| words.to_s.strip }
        wrong = {}
        wrong["name"] = "The name takes a word or two, at most 60 characters." unless name.size.between?(1, 60)
        wrong["text"] = "The text takes a few words, at most 2,000 characters." unless text.size.between?(1, 2_000)
        raise Refused.at(wrong) if wrong.any?

        {name:, text:}
      end
    end
  end
end
