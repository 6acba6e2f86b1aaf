# frozen_string_literal: true

module Yenvo
  module Store
    # What is kept, as far as one person may see it (Core::Access decides). Of what is gone it is judged as it lies in
    # the trash, as long as that is known.
    class Sight < Base
      # What few see is looked up by number.
      FEW = 2_000

      # @return [Core::Access]
      attr_reader :access

      # @param person [String, nil] key; nil for Yenvo itself, which sees all
      def initialize(root, person)
        super(root)
        @access = root.schema.access(person)
        @schema = root.schema
      end

      # @return [Boolean] whether nothing is hidden
      def all? = @access.sees_all?

      # @param ids [Array<Integer, nil>]
      # @return [Set<Integer>] those of the records that are seen
      def records(ids)
        ids = ids.compact.uniq
        return ids.to_set if all? || ids.empty?

        db[:records].where(id: ids).where(anywhere).select_map(:id).to_set
      end

      # @return [Boolean] whether a record is there and seen
      def record?(id) = !db[:records].where(id:).where(anywhere).empty?

      # @return [Hash] the row
      # @raise [NotFound] also when it is hidden
      def record!(id) = record?(id) ? root.records.row!(id) : raise(NotFound, Records.gone(id))

      # @return [Hash] row of a task
      # @raise [NotFound] also when it is about what is hidden
      def task!(id) = tasks([root.task_rows.find!(id)]).first || raise(NotFound, TaskRows.gone(id))

      # @param rows [Array<Hash>] with record_id
      # @return [Array<Hash>] those about nothing, or about what is seen
      def about(rows, name = :record_id)
        return rows if all?

        seen = seen_or_gone(rows.filter_map { |row| row[name] })
        rows.select { |row| row[name].nil? || seen.include?(row[name]) }
      end
      alias_method :tasks, :about

      # @return [Hash{Integer => Hash}] id, title and kind of those that are seen
      def titles(ids) = root.records.titles(records(ids).to_a)

      # @return [Hash{Integer => Hash}] see Records#hints
      def hints(ids) = root.records.hints(records(ids).to_a)

      # @return [Hash{Integer => Hash}] see Records#images
      def images(ids) = root.records.images(records(ids).to_a)

      # @param kind [Core::Schema::Kind]
      # @return [Sequel::SQL::Expression, nil] what a row of the table records has to fulfil; nil where all are seen
      def test(kind, at = Sequel[:records])
        tests = [owned(at, kind), about_seen(kind, at)].compact
        tests.any? ? Sequel.&(*tests) : nil
      end

      # @param rows [Sequel::Dataset] of the table tasks
      # @return [Sequel::Dataset] those about nothing, or about what is seen
      def narrow_tasks(rows) = all? ? rows : rows.where(leading(*OF_TASK))
      OF_TASK = %i[record_id kind].map { |name| Sequel[:tasks][name] }.freeze
      private_constant :OF_TASK

      # @param rows [Sequel::Dataset] of the table tasks
      # @return [Array<Sequel::Dataset>] the same as +narrow_tasks+ in parts, none of which goes along what is hidden
      def parts_of_tasks(rows)
        free, held = @schema.kinds.values.partition { |kind| test(kind).nil? }
        by_kind = rows.from(BY_KIND)
        of_free = free.map { |kind| by_kind.where(kind: kind.key) }
        [rows.from(BY_RECORD).where(record_id: nil), *of_free, *held.map { |kind| of(kind) }]
      end

      # @param rows [Sequel::Dataset]
      # @return [Sequel::Dataset] those whose column leads nowhere, or to what is seen
      def narrow(rows, column) = all? ? rows : rows.where(leading(column))

      # @param column [Sequel::SQL::Expression] that leads to a record, or nowhere
      # @param kind [Sequel::SQL::Expression, nil] column with its kind
      # @return [Sequel::SQL::Expression] whether that is nowhere, or seen
      def leading(column, kind = nil)
        tests = [{column => nil}, within(:records, :id, column), within(:trash, :record_id, column)]
        tests << {kind => open} if kind
        Sequel.|(*tests)
      end

      # @param at [Sequel::SQL::Expression] a table with kind and owner
      # @return [Sequel::SQL::Expression, true] what a record has to fulfil, whatever its kind
      def anywhere(at = Sequel[:records])
        return true if all?

        tests = @schema.kinds.each_value.to_h { |kind| [kind.key, test(kind, at)] }
        free, held = tests.partition { |_, test| test.nil? }
        Sequel.|({at[:kind] => free.map(&:first)}, *held.map { |key, test| Sequel.&({at[:kind] => key}, test) })
      end

      # Left alone, MariaDB would go along all tasks in the order in which they are due.
      BY_KIND, BY_RECORD =
        %w[kind record].map { |name| Sequel.lit("`tasks` FORCE INDEX (`tasks_of_#{name}`)") }
      private_constant :BY_KIND, :BY_RECORD

      private

      def of(kind)
        ids = {records: :id, trash: :record_id}.flat_map { |table, name| few(table, name, kind) }
        return narrow_tasks(db.from(BY_KIND).where(kind: kind.key)) if ids.size > FEW

        db.from(BY_RECORD).where(kind: kind.key, record_id: ids)
      end

      # @return [Array<Integer>] ids of those of a kind that are seen, or so many that they are not few
      def few(table, name, kind) =
        db[table].where(kind: kind.key).where(test(kind, Sequel[table])).limit(FEW + 1).select_map(name)

      def open = @schema.kinds.values.select { |kind| test(kind).nil? }.map(&:key)

      def within(table, name, column)
        at = Sequel[table]
        db[table].where(at[name] => column).where(anywhere(at)).select(1).exists
      end

      def seen_or_gone(ids)
        seen = records(ids)
        left = ids.uniq - seen.to_a
        return seen if left.empty?

        seen | db[:trash].where(record_id: left).where(anywhere(Sequel[:trash])).select_map(:record_id)
      end

      def owned(at, kind)
        owners = @access.owners(kind) or return
        mine = {at[:owner] => owners.compact}
        owners.include?(nil) ? Sequel.|(mine, {at[:owner] => nil}) : Sequel.expr(mine)
      end

      # The entry of a list holds words of what was put on it, so it is seen only by who sees that.
      def about_seen(kind, at)
        target = kind.about && @schema.kind(kind.about.links_to)
        seen = target && owned(Sequel[:place], target) or return
        # What lies in the trash has no links any more.
        return Sequel.lit("FALSE") unless at == Sequel[:records]

        link = Sequel[:links]
        links = db[:links].where(link[:record_id] => at[:id], link[:field] => Core::Schema::Kind::ABOUT)
        there = links.join(Sequel[:records].as(:place), id: link[:target_id])
        Sequel.|(there.where(seen).select(1).exists, Sequel.~(links.select(1).exists))
      end
    end
  end
end
