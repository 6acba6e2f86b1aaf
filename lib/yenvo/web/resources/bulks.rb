# frozen_string_literal: true

module Yenvo
  module Web
    # Many records that are changed together, by a worker; each person their own.
    class Bulks < Base
      get("/?") { answer 200, {changes: present.bulks(changes.of(person[:key]))} }

      post "/?" do
        doing = Store::BulkDoing.new(root, sight, body_of_call)
        may.make!(body_of_call["list"]) if body_of_call["what"] == "list"
        answer 201, present.bulk(changes.begin(doing, chosen(doing.kind.key), cause:))
      end

      get("/:id") { answer 200, present.bulk(mine!) }

      post "/:id/:step" do
        mine!
        answer 200, present.bulk((params["step"] == "stop") ? changes.stop(id, now:) : go_on)
      end

      private

      STATES = {"go-on" => "running", "undo" => "undoing"}.freeze
      private_constant :STATES

      def changes = root.bulk_changes

      def go_on
        state = STATES[params["step"]] || raise(Store::NotFound, "There is no such step.")
        changes.go_on(id, state, cause:)
      end

      # @return [Array<Integer>, Sequel::Dataset] those that were chosen, or all that match
      def chosen(kind)
        return sight.records(body_of_call["records"]).to_a if body_of_call["records"]

        query = RecordQuery.read({**body_of_call["query"].to_h, "kind" => kind}, sight.access.schema, now:)
        root.lists.ids(query.with(sight:))
      end

      # @raise [Store::NotFound]
      def mine! =
        changes.find!(id).tap do |row|
          raise Store::NotFound, "There is no such change of many." unless row[:by] == person[:key]
        end
    end
  end
end
