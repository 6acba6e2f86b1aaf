# frozen_string_literal: true

module Yenvo
  module Store
    # Takes back what runs made and set, except what people have changed since, and says which is which.
    class Undo < Base
      MOST = 500

      # One thing that a run did. words: what it was; back: whether it can be taken back; why: why not, nil when it can.
      Item = Core::Value.define(:run, :words, :back, :why)

      # @param runs [Array<Hash>] rows
      # @return [Array<Item>] what would be taken back and what would stay; nothing is written
      def preview(runs)
        items = nil
        db.transaction(savepoint: true) do
          items = take_back(runs, Journal::Cause.house(column(runs, :at).max || Time.at(0)))
          raise Sequel::Rollback
        end
        items
      end

      # @return [Array<Item>] what was taken back and what stays
      def run(runs, cause:)
        root.transaction { take_back(runs, cause) }
      end

      # @return [Array<Hash>] runs of a rule since a moment that can still be undone, newest first
      def since(rule_id, from) =
        db[:runs].where(rule_id:, state: "ran").where(Sequel[:at] >= from).reverse(:id).limit(MOST).all

      private

      # Newest first, and in each run the last step first, so that what came later gives way before what it stands on.
      def take_back(runs, cause) = runs.sort_by { |run| -run[:id] }.flat_map { |run| one_back(run, cause) }

      def one_back(run, cause)
        locked = db[:runs].where(id: run[:id], state: "ran").for_update.first
        return [Item.new(run: run[:id], words: "This run", back: false, why: OVER)] unless locked

        world = WorldBack.new(root, locked, cause)
        items = load(locked[:actions]).reverse.flat_map { |kept| world.step_back(kept) } + world.rest_back
        db[:runs].where(id: run[:id]).update(
          state: "undone", undone_at: cause.at, undone_by: cause.who, once_key: nil
        )
        items.uniq
      end

      OVER = "it was undone already, or it failed"
      private_constant :OVER
    end
  end
end
