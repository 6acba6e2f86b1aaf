# frozen_string_literal: true

module Yenvo
  module Store
    # What people are told within Yenvo.
    class Notices < Base
      keeps :notices

      PAGE = 50
      # Characters of a notice.
      MOST = 500

      # Days for which they are kept, and rows that are taken away at one go.
      DAYS = 90
      PURGED_AT_ONCE = 500

      # @param persons [Array<String>]
      # @param about [Hash] columns that say what it is about: what, record_id, rule_id, run_id, task_id
      # @return [Array<Integer>] ids
      def add(persons, text, at:, **about)
        add_all(persons.map { |person| {person:, text: text[0, MOST], at:, **about} })
      end

      # @param rows [Array<Hash>] all with the same columns
      def add_all(rows)
        # A notice holds words of the record it is about, unless it says of which.
        all = rows.reject { |row| way(row) == "none" }
        insert_all(:notices, all.map { |row| {words_of: row[:record_id], by_mail: by_mail?(row), **row} })
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
      # @param rule [Integer, nil] of this rule alone
      # @return [Array<Hash>] newest first, without those with words of what they may not see any more
      def of(person, before: nil, rule: nil, limit: PAGE)
        found = seen(person).reverse(:id).limit(limit)
        older(rule ? found.where(rule_id: rule) : found, before)
      end

      # @return [Array<Hash>] what they were told of after one moment and up to another, the first first
      def between(person, after, till)
        seen(person).where { (Sequel[:at] > after) & (Sequel[:at] <= till) }.order(:id).limit(PAGE * 4).all
      end

      # @param rows [Array<Hash>] of one person
      # @return [Array<Hash>] those without words of what they may not see
      def shown(person, rows)
        ids = seen(person).where(id: column(rows, :id)).select_map(:id)
        rows.select { |row| ids.include?(row[:id]) }
      end

      # @return [Array<Integer>] rules that have told them something, those of the newest first
      def rules_of(person) =
        table.where(person:).exclude(rule_id: nil).group(:rule_id).reverse { max(:id) }.limit(PAGE).select_map(:rule_id)

      # Takes away what is older than they are kept.
      # @return [Integer] how many
      def purge(now:)
        delete_keys(:notices, :id, table.where {
          Sequel[:at] < now - (DAYS * 86_400)
        }.limit(PURGED_AT_ONCE).select_map(:id))
      end

      # @return [Integer] how many are unread; counting stops at 100
      def unread(person) = seen(person).where(read_at: nil).limit(100).from_self.count

      def seen(person) = Sight.new(root, person).narrow(table.where(person:), Sequel[:notices][:words_of])
      private :seen

      # @return [String, nil] how somebody is told of such
      def way(row) = schema.person(row[:person])&.told_by(row[:what])
      private :way

      # @return [true, nil] whether a mail is written of it, too
      def by_mail?(row) = (way(row) == "mail") || nil
      private :by_mail?

      # @param ids [Array<Integer>, nil] nil for all
      def read(person, ids, at:)
        found = table.where(person:, read_at: nil)
        (ids ? found.where(id: ids) : found).update(read_at: at)
      end
    end
  end
end
