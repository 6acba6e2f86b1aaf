# frozen_string_literal: true

module Yenvo
  module Store
    # What people are told within Yenvo.
    class Notices < Base
      keeps :notices

      PAGE = 50
      # Characters of a notice.
      MOST = 500

      # What people may choose not to be told of, by what a notice is about. What a person or a rule tells them, and
      # failed tries to sign in with their address, always come.
      MAY_BE_UNTOLD = {
        "given" => "a task is given to you or passed on to you", "reminder" => "the moment of a reminder comes",
        "failed" => "a rule of yours fails", "stuck" => "a kit that you began is stuck",
        "leaning" => "something goes that your rules or kits lean on", "job" => "long work that you began has ended"
      }.freeze

      # @param persons [Array<String>]
      # @param about [Hash] columns that say what it is about: what, record_id, rule_id, run_id, task_id
      # @return [Array<Integer>] ids
      def add(persons, text, at:, **about)
        add_all(persons.map { |person| {person:, text: text[0, MOST], at:, **about} })
      end

      # @param rows [Array<Hash>] all with the same columns
      def add_all(rows)
        # A notice holds words of the record it is about, unless it says of which.
        all = rows.reject { |row| untold?(row) }.map { |row| {words_of: row[:record_id], **row} }
        insert_all(:notices, all)
      end

      # The same, but for persons who have not read yet what they were told of the same.
      # @param what [String] what the notice is about, such as "failed"
      # @return [Array<Integer>] ids
      def add_once(persons, text, what:, at:, **about)
        told =
          table.where(person: persons, what:, read_at: nil, **about.slice(:rule_id)).select_map(:person)
        add(persons - told, text, at:, what:, **about)
      end

      # @param before [Integer, nil] id to go on from
      # @return [Array<Hash>] newest first, without those with words of what they may not see any more
      def of(person, before: nil, limit: PAGE) = older(seen(person).reverse(:id).limit(limit), before)

      # @return [Integer] how many are unread; counting stops at 100
      def unread(person) = seen(person).where(read_at: nil).limit(100).from_self.count

      def seen(person) = Sight.new(root, person).narrow(table.where(person:), Sequel[:notices][:words_of])
      private :seen

      # @return [Boolean] whether somebody has chosen not to be told of such
      def untold?(row) = schema.person(row[:person])&.untold&.include?(row[:what])
      private :untold?

      # @param ids [Array<Integer>, nil] nil for all
      def read(person, ids, at:)
        found = table.where(person:, read_at: nil)
        (ids ? found.where(id: ids) : found).update(read_at: at)
      end
    end
  end
end
