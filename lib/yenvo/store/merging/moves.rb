# frozen_string_literal: true

module Yenvo
  module Store
    # What hangs on a record, moved to another and back. What was moved is written down by row, so that what came
    # later stays where it came.
    class Moves < Base
      keeps :merge_moves

      # Tables and the column in each that says which record.
      COLUMNS = [
        %i[interactions record_id], %i[attachments record_id], %i[deliveries record_id], %i[letters record_id],
        %i[arrivals record_id], %i[proposals record_id], %i[notices record_id], %i[notices words_of],
        %i[form_sends record_id], %i[form_sends contact_id], %i[runs record_id], %i[kit_copies record_id]
      ].freeze
      TASKS = "tasks"
      TIMERS = "timers"
      LINK = "link"
      LINKED = "linked"

      # @param merge [Integer]
      # @param kept [Integer] the record to which all goes
      def initialize(root, merge, kept)
        super(root)
        @merge = merge
        @kept = kept
      end

      # @param gone [Integer] the record from which it goes
      def over(gone)
        COLUMNS.each { |name, column| move(db[name], "#{name}.#{column}", column, gone) }
        move(root.task_rows.about(gone), TASKS, :record_id, gone)
        move(db[:timers].where(purpose: Timers::OF_RUNS), TIMERS, :record_id, gone)
        move(db[:timers].exclude(task_id: 0), TIMERS, :record_id, gone)
        named_anew(gone, @kept)
        db[:job_records].insert_ignore.insert(%i[version_id record_id job_id], jobs(gone))
        plain_links(gone)
      end

      # @param gone [Integer] the record that is back
      def back(gone)
        named_anew(@kept, gone)
        COLUMNS.each { |name, column| return_rows(db[name], "#{name}.#{column}", column, gone) }
        return_rows(root.task_rows.about(@kept), TASKS, :record_id, gone)
        return_rows(db[:timers], TIMERS, :record_id, gone)
        links_back(gone)
      end

      # Writes down something else that was moved.
      def note(what, ref, gone, field = nil) = table.insert(merge_id: @merge, what:, ref:, record_id: gone, field:)

      # @return [Array<Hash>] rows of one sort that came from a record
      def noted(what, gone) = table.where(merge_id: @merge, what:, record_id: gone).order(:id).all

      private

      def move(rows, what, column, gone)
        mine = rows.where(column => gone)
        key = Sequel.lit("id")
        table.insert(%i[merge_id what ref record_id], mine.select(@merge, what, key, gone))
        # What comes at this moment is not written down, and stays.
        mine.where(key => table.where(merge_id: @merge, what:, record_id: gone).select(:ref)).update(column => @kept)
      end

      # What somebody has moved on since stays.
      def return_rows(rows, what, column, gone)
        ids = noted(what, gone).map { |row| row[:ref] }
        ids.each_slice(1_000) { |some| rows.where(:id => some, column => @kept).update(column => gone) }
      end

      # What ran once for one of them has run for the one that stays; and a task that waits to be sent off names its
      # record within.
      def named_anew(from, to)
        mine = ->(what) { table.where(merge_id: @merge, what:).select(:ref) }
        runs = db[:runs].where(id: mine.call("runs.record_id"), once_key: "record:#{from}")
        db.run(runs.update_sql(once_key: "record:#{to}").sub("UPDATE", "UPDATE IGNORE"))
        waiting = db[:proposals].where(id: mine.call("proposals.record_id")).exclude(task: nil)
        waiting.update(task: Sequel.function(:json_set, :task, "$.record_id", to))
      end

      def jobs(gone) = db[:job_records].where(record_id: gone).select(:version_id, @kept, :job_id)

      # Links that people drew: the other end leads to the one that stays, unless it does so already.
      def plain_links(gone)
        ends = {record_id: :target_id, target_id: :record_id}
        ends.each do |mine, other|
          links.where(mine => gone, :field => "").select_map([other, :entry_id]).each do |id, entry|
            note(LINK, id, gone, mine.to_s)
            draw(mine => @kept, other => id, :entry_id => entry) unless id == @kept || linked?(id)
          end
          links.where(mine => gone, :field => "").delete
        end
      end

      def links_back(gone)
        noted(LINK, gone).each do |row|
          mine = row[:field].to_sym
          other = (mine == :record_id) ? :target_id : :record_id
          next if db[:records].where(id: row[:ref]).empty?

          draw(mine => gone, other => row[:ref], :entry_id => 0)
        end
        drawn = noted(LINKED, @kept).map { |row| row[:ref] }
        [[:record_id, :target_id], [:target_id, :record_id]].each do |one, other|
          links.where(one => @kept, other => drawn, :field => "").delete
        end
      end

      def links = db[:links]

      def draw(columns)
        links.insert_ignore.insert(field: "", **columns)
        other = columns.values_at(:record_id, :target_id) - [@kept]
        note(LINKED, other[0], @kept) if columns.values_at(:record_id, :target_id).include?(@kept)
      end

      def linked?(id) = [[@kept, id], [id, @kept]].any? { |ends| drawn?(*ends) }
      def drawn?(one, other) = links.where(record_id: one, target_id: other, field: "").any?
    end
  end
end
