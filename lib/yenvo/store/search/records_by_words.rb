# frozen_string_literal: true

module Yenvo
  module Store
    # Finds records by any of their texts.
    class RecordsByWords < ByIndex
      private

      def sort = SearchWords::RECORD

      def fitting(ids, asked)
        images = @sight.images(ids)
        ids.filter_map { |id| images[id] && fits(images[id], asked) }
      end

      # By texts alone that whoever asks may see.
      def fits(image, asked)
        kind = @sight.access.schema.kind(image["kind"]) or return
        texts = SearchWords.fields(kind).to_h { |field| [field, image[field.key].to_s] }
        return unless Core::Words.all_in?(asked, *texts.values)

        Found.new(sort: "records", **image.slice("id", "title", "kind", "stage").transform_keys(&:to_sym),
          stage: image["stage"], record: nil, why: why(texts, asked))
      end

      def why(texts, asked)
        telling = texts.select { |_, text| Core::Words.any_in?(asked, text) }
        return "Title" if telling.any? { |field, text| field.key == "title" && Core::Words.all_in?(asked, text) }

        telling.reject { |field, _| field.key == "title" }
          .map { |field, text| "#{field.label}: #{Core::Words.around(asked, text)}" }.first(2).join("; ")
      end
    end
  end
end
