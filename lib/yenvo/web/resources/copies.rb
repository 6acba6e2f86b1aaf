# frozen_string_literal: true

module Yenvo
  module Web
    # Kits in use on records.
    class Copies < Base
      get "/?" do
        sight.record!(number("record"))
        answer 200,
          {
            copies: present.copies(root.copies.of_record(number("record"), before: number("before"))),
            count: root.copies.count_of_record(number("record"))
          }
      end

      post "/?" do
        row = root.kits.find!(body_of_call["kit_id"])
        kit =
          root.schema.kits.compiled(row[:key]) ||
          raise(
            Store::Refused.at(
              "kit" => "“#{row[:name]}” cannot be used: it is not published, or it no longer fits the set-up."
            )
          )
        sight.record!(body_of_call["record_id"])
        copy = root.copies.begin(kit, body_of_call["record_id"], cause:)
        answer 201, present.copies([copy]).first
      rescue Core::Error => error
        raise unless error.instance_of?(Core::Error)

        raise Store::Refused.at("kit" => error.message)
      end

      post("/:id/skip") { changed { root.copies.skip(id, body_of_call["task"], cause:) } }
      post("/:id/stop") { changed { root.copies.stop(id, cause:) } }

      get "/:id/move/:version" do
        copy
        answer 200, root.copies.preview_move(id, version_of(part("version")), now:)
      end

      post("/:id/move") { changed { root.copies.move(id, version_of(body_of_call["version"]), cause:) } }

      private

      # @return [Hash] row
      # @raise [Store::NotFound] also when its record is hidden
      def copy =
        root.copies.find!(id).tap { |row| sight.record!(row[:record_id]) }

      # Whoever began it, leads and administrators.
      def changed
        may.lead_copy!(copy)
        answer 200, present.copies([yield]).first
      end

      # @return [Integer] id of the version with a number, of the kit of the copy
      def version_of(number)
        kit = copy[:kit_id]
        root.kits.versions(kit).find { |one| one[:number] == number }&.fetch(:id) ||
          raise(Store::NotFound, "There is no version #{number} of this kit.")
      end
    end
  end
end
