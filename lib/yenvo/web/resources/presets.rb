# frozen_string_literal: true

module Yenvo
  module Web
    # Texts for notes. Everybody sees and writes them; they are changed by who wrote them, leads and administrators.
    class Presets < Base
      get("/?") { answer 200, {presets: list} }

      post "/?" do
        root.presets.save(nil, body_of_call, cause:)
        answer 201, {presets: list}
      end

      put "/:id" do
        mine!
        root.presets.save(id, body_of_call, cause:)
        answer 200, {presets: list}
      end

      delete "/:id" do
        mine!
        root.presets.remove(id)
        answer 200, {presets: list}
      end

      private

      def list = root.presets.all.map { |row| row.slice(:id, :name, :text, :by).merge(mine: mine?(row)) }
      def mine?(row) = may.lead? || row[:by] == person[:key]

      def mine! =
        mine?(root.presets.find!(id)) || raise(Forbidden, "A preset is changed by who wrote it, or by a lead.")
    end
  end
end
