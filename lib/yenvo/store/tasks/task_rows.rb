# frozen_string_literal: true

module Yenvo
  module Store
    # The table of tasks, read: no other place of the store but this folder names it. Sets that callers narrow further
    # are datasets; all else is rows. Tasks adds to it what can be done with one.
    class TaskRows < Base
      keeps :tasks

      PRIORITIES = TaskColumns::PRIORITIES
      OPEN = TaskColumns::OPEN
      NEVER = TaskColumns::NEVER

      # @return [Sequel::Dataset] open tasks
      def open = table.where(open: true)

      # @return [Sequel::Dataset] open tasks about a record
      def open_about(record_id) = open.where(record_id:)

      # @return [Sequel::Dataset] one task
      def about_id(id) = table.where(id:)

      # Short words, and those that MariaDB leaves out, are not asked of its index.
      # @param words [Array<String>] beginnings of words
      # @param after [Integer, nil] number to go on from
      # @return [Array<Integer>] numbers of those that may have all of them, the newest first
      def ids_with_words(words, limit:, after: nil)
        long = words.select { |word| word.size >= 3 }
        found = table.where(long.empty? ? beginning(words[0]) : in_index(long))
        found = found.where { Sequel[:id] < after } if after
        found.reverse(:id).limit(limit).select_map(:id)
      end

      def in_index(words) =
        Sequel.lit("MATCH (title, text) AGAINST (? IN BOOLEAN MODE)", all_of(words.first(8)))

      def all_of(words) = words.map { |word| "+#{word}*" }.join(" ")

      def beginning(word) = Sequel.ilike(:title, "%#{db.dataset.escape_like(word)}%")
      private :all_of

      # @return [Sequel::Dataset] tasks about some records
      def about(record_ids) = table.where(record_id: record_ids)

      # Leaves no word in tasks about records that are erased; that they were done, by whom and when, stays.
      # @return [Array<Integer>] their ids
      def blank(record_ids)
        found = about(record_ids)
        found.update(title: Core::Blanked::GONE, text: nil, web_link: nil, note: nil, location: nil,
          answers: "[]", answer: nil)
        found.select_order_map(:id)
      end

      # @return [Sequel::Dataset] tasks that were done since a moment
      def done_since(since) = table.where(open: false, state: "done").where(Sequel[:done_at] >= since)

      # @return [Sequel::Dataset] tasks that a run made
      def made_by_run(run_id) = table.where(run_id:)

      # @return [Sequel::Dataset] tasks of kits in use
      def of_copies(copy_ids) = table.where(copy_id: copy_ids)

      # @return [Hash{Integer => Integer}] the kit in use to which each belongs, of those that belong to one
      def copies_of(ids) = table.where(id: ids).exclude(copy_id: nil).select_hash(:id, :copy_id)

      # @return [Sequel::Dataset] open tasks whose due moment has passed without a word of it
      def late_at(now) = open.where(late_noted: false).where { Sequel[:due_at] <= now }

      # @return [Sequel::Dataset] open tasks whose reminder has come and was not told
      def to_remind_at(now) = open.where(reminded: false).where { Sequel[:remind_at] <= now }

      # @return [Boolean] whether any task was ever done
      def any_done? = !table.where(state: "done").empty?

      # @return [Sequel::Dataset] the moment at which the next task gets late
      def next_late(after) = open.where(late_noted: false).where { due_at > after }.select { min(:due_at) }

      # @return [Sequel::Dataset] the moment of the next reminder
      def next_reminder(after) = open.where(reminded: false).where { remind_at > after }.select { min(:remind_at) }

      # @param kinds [Array<String>]
      # @return [Array<Hash>] how many open tasks about records each person has: kind, assignee, owner of the record,
      #   count
      def holders(kinds) =
        open.where(Sequel[:tasks][:kind] => kinds).exclude(assignee: nil).join(:records, id: :record_id)
          .group_and_count(Sequel[:tasks][:kind], :assignee, :owner).all

      # @return [Hash{Integer => Hash}] rows by id
      def by_id(ids) = ids.empty? ? {} : table.where(id: ids).as_hash(:id)

      # @raise [NotFound]
      def find!(id) =
        table.where(id:).first || raise(NotFound, TaskRows.gone(id))

      # @return [String] said of a task that is not there
      def self.gone(id) = "There is no task #{id}; it may have been removed."

      # Locks a task against other steps until the transaction ends.
      # @raise [NotFound]
      def lock!(id) =
        table.where(id:).for_update.first ||
          raise(NotFound, TaskRows.gone(id))

      # @return [Array<Hash>] tasks under a task, in their places, then as they were made
      def parts(id) = table.where(parent_id: id).order(*IN_PLACE).limit(MOST_PARTS).all
      MOST_PARTS = 500
      IN_PLACE = [Sequel.asc(:place, nulls: :last), :id].freeze
      private_constant :IN_PLACE

      # @return [Hash{Integer => Hash}] how many parts each task has and how many are over: done, all
      def part_counts(ids)
        rows =
          (
            if ids.empty?
              []
            else
              table.where(parent_id: ids).exclude(state: "dropped").group_and_count(:parent_id, :open).all
            end
          )
        rows.group_by { |row| row[:parent_id] }
          .transform_values do |all|
            {done: all.reject { |row| row[:open] }.sum { |row| row[:count] }, all: all.sum { |row| row[:count] }}
          end
      end

      # @return [Array<Hash>] tasks that a run made
      def of_run(run_id) = made_by_run(run_id).order(:id).all

      # @return [Hash{Integer => String}]
      def titles(ids) = ids.empty? ? {} : table.where(id: ids).select_hash(:id, :title)

      # @return [Hash, nil] id and title
      def title(id) = table.where(id:).select(:id, :title).first

      def team_of(person, queue)
        # Teams are part of the set-up: when that is read anew, so are they.
        @teams = nil unless @teams_for.equal?(schema)
        @teams_for = schema
        teams = (@teams ||= {})
        teams[[person, queue]] ||= (person && db[:people].where(key: person).get(:team)) ||
          (queue && db[:queues].where(key: queue).get(:team))
      end

      # The task as rules see it.
      # @param row [Hash]
      # @return [Hash]
      def seen(row, at) = TaskImage.of(row, at).merge("answers" => load(row[:answers]))

      # @return [Array<Array(Integer, Integer)>] record and id of the open tasks about records
      def open_of(record_ids) = open_about(record_ids).select_map([:record_id, :id])

      # Open tasks in order.
      # @param held [Boolean] whether they are kept from changing until the transaction ends
      # @return [Array<Integer>] ids
      def ids_of_open(after:, limit:, held: false)
        found = open.order(:id).limit(limit)
        found = found.where { Sequel[:id] > after } if after
        (held ? found.lock_style(Sequel.lit("LOCK IN SHARE MODE")) : found).select_map(:id)
      end

      # @param day [Date]
      # @param after [Integer] id to go on from
      # @return [Sequel::Dataset] open tasks that are due after a day, in order
      def due_after(day, after: 0) = open.where { (due_on > day) & (id > after) }.order(:id)

      # @param before [Integer, nil] id to go on from
      # @return [Array<Hash>] rows, the newest first
      def newest(before:, limit:)
        older(table.reverse(:id).limit(limit), before)
      end

      # @param ids [Array<Integer>] 0 for none
      # @return [Hash{Integer => Hash}] tasks as rules see them, by id
      def images(ids, at)
        ids = ids.uniq - [0]
        ids.empty? ? {} : table.where(id: ids).all.to_h { |row| [row[:id], seen(row, at)] }
      end

      # @return [Hash{Integer => Array<Hash>}] tasks by record, the newest first
      def newest_of(record_ids, most: 20)
        record_ids.each_slice(2_000)
          .flat_map { |ids| table.where(record_id: ids).reverse(:id).limit(most * ids.size).all }
          .group_by { |row| row[:record_id] }
      end

      # @param on [Date, nil]
      # @param minutes [Integer, nil] of the day
      # @return [Hash] columns
      def due_columns(on, minutes)
        return {due_on: nil, due_minutes: nil, due_at: NEVER} unless on

        zone = calendar.zone
        {due_on: on, due_minutes: minutes, due_at: minutes ? zone.at(on, minutes) : zone.midnight(on + 1)}
      end
    end
  end
end
