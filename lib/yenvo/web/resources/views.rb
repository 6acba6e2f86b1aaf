# frozen_string_literal: true

module Yenvo
  module Web
    # Named views of lists. Everybody makes some; they are changed by whoever made them, and those that others see by
    # administrators too.
    class Views < Base
      get("/?") { answer 200, {views: list(params["kind"])} }

      post "/?" do
        id = root.views.save(nil, body_of_call, me, now:)
        answer 201, {id:, views: list(body_of_call["kind"])}
      end

      put "/:id" do
        row = changing!
        root.views.save(row[:id], {**body_of_call, "kind" => row[:kind]}, owner(row), now:)
        answer 200, {id: row[:id], views: list(row[:kind])}
      end

      delete "/:id" do
        row = changing!
        root.views.remove(row[:id])
        answer 200, {id: nil, views: list(row[:kind])}
      end

      private

      def me = root.schema.person(person[:key])
      def owner(row) = root.schema.person(row[:person]) || me

      def list(kind) = root.views.of(kind, me).map { |row| shown(row) }

      def shown(row)
        {**row.slice(:id, :name, :whose, :team), query: JSON.parse(row[:query]), by: row[:person], mine: mine?(row)}
      end

      def mine?(row) = row[:person] == person[:key] || (may.write_rules? && row[:whose] != "mine")

      # @raise [Store::NotFound, Forbidden]
      def changing!
        row = root.views.find!(id)
        raise Store::NotFound, "There is no such view." unless seen?(row)
        return row if mine?(row)

        raise Forbidden, "It is changed by #{root.schema.name_of(row[:person])}, who made it, or an administrator."
      end

      def seen?(row) = root.views.of(row[:kind], me).any? { |one| one[:id] == row[:id] }
    end
  end
end
