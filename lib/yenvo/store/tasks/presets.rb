# frozen_string_literal: true

module Yenvo
  module Store
    # Texts for notes, put in with a few keys. A blank is written as three or more underscores; a text may hold a !code.
    class Presets < Base
      MOST = 100

      # @return [Array<Hash>] by name
      def all = db[:presets].order(:name).all

      # @param id [Integer, nil] nil for a new one
      # @param given [Hash] name, text
      # @raise [Refused, NotFound]
      def save(id, given, cause:)
        name = given["name"].to_s.strip
        text = given["text"].to_s.strip
        wrong = {}
        wrong["name"] = "The name takes a word or two, at most 60 characters." if name.empty? || name.size > 60
        wrong["text"] = "The text takes a few words, at most 2,000 characters." if text.empty? || text.size > 2_000
        raise Refused.at(wrong) if wrong.any?

        root.transaction do
          if id && db[:presets].where(id:).empty?
            raise NotFound, "There is no preset #{id}; it may have been taken away."
          end
          if id.nil? && db[:presets].count >= MOST
            raise Refused.at("name" => "There are #{MOST} presets already. Take one away first.")
          end

          id ?
            db[:presets].where(id:).update(name:, text:) :
            id = db[:presets].insert(name:, text:, by: cause.who, at: cause.at)
          db[:presets].where(id:).first
        end
      rescue Sequel::UniqueConstraintViolation
        raise Refused.at("name" => "There is a preset “#{name}” already; choose another name.")
      end

      # @return [Hash] the row
      # @raise [NotFound]
      def find!(id) =
        db[:presets].where(id:).first || raise(NotFound, "There is no preset #{id}; it may have been taken away.")

      def remove(id) = db[:presets].where(id:).delete
    end
  end
end
