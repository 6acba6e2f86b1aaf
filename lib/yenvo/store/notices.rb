# frozen_string_literal: true

module Yenvo
  module Store
    # What people are told within Yenvo.
    class Notices < Part
      PAGE = 50

      # @param persons [Array<String>]
      # @return [Array<Integer>] ids
      def add(persons, text, at:, record_id: nil, rule_id: nil, run_id: nil, task_id: nil)
        insert_all(:notices, persons.map { |person| {person: person, text: text[0, 500], record_id: record_id, rule_id: rule_id, run_id: run_id, task_id: task_id, at: at} })
      end

      # @param before [Integer, nil] id to go on from
      # @return [Array<Hash>] newest first
      def of(person, before: nil, limit: PAGE)
        found = db[:notices].where(person: person).reverse(:id).limit(limit)
        (before ? found.where(Sequel[:id] < before) : found).all
      end

      # @return [Integer] how many are unread; counting stops at 100
      def unread(person) = db[:notices].where(person: person, read_at: nil).limit(100).from_self.count

      # @param ids [Array<Integer>, nil] nil for all
      def read(person, ids, at:)
        found = db[:notices].where(person: person, read_at: nil)
        (ids ? found.where(id: ids) : found).update(read_at: at)
      end
    end
  end
end
