# frozen_string_literal: true

module Yenvo
  module Store
    # All that happened, append-only; and the queue of what the worker has yet to look at.
    class Journal < Base
      keeps :journal

      # What rules can watch.
      TASKS = %w[task_made task_changed task_done task_dropped task_late].freeze
      WATCHED = [
        "record_made", "record_changed", "linked", "put_on_list", "interaction_logged", "note_edited", "started",
        "timer_fired", "record_merged", *TASKS
      ].freeze
      # What waits for the worker when it is added.
      QUEUED = [*WATCHED, "record_restored"].freeze

      # Who and what is behind an entry. who: key of a person or nil for Yenvo; at: Time;
      # run, rule: ids of the run that caused it and its rule, or nil; depth: links of the chain that led here; unheard:
      # whether no rule meets what it causes, as whoever brings in a table may choose.
      Cause = Core::Value.define(:who, :at, :run, :rule, :depth, unheard: false) do
        def self.person(who, at) = new(who:, at:, run: nil, rule: nil, depth: 0)

        # Yenvo itself, without a rule.
        def self.house(at, depth: 0) = new(who: nil, at:, run: nil, rule: nil, depth:)

        # @param run [Integer]
        # @param outcome [Runs::Outcome]
        def self.of_run(run, outcome, at) =
          new(who: nil, at:, run:, rule: outcome.rule.id, depth: outcome.entry[:depth] + 1)
      end

      # @param watching [#looks_at_task?] says which entries about tasks wait for the worker
      def initialize(root, watching)
        super(root)
        @watching = watching
      end

      # Adds an entry, in the caller's transaction.
      # @return [Integer] its number
      def add(what, cause, **given)
        record_id, task_id = given.values_at(:record_id, :task_id)
        id = insert_all(:journal, [row(what, cause, **given)])[0]
        waits = heard?(what, cause) && (record_id || (TASKS.include?(what) && @watching.looks_at_task?(nil, what)))
        db[:waiting].insert(entry_id: id, record_id: Lane.of(record_id, task_id)) if waits
        id
      end

      # Adds many entries of one sort about records at one go.
      # @param rows [Array<Hash>] columns of each: record_id, before, after and detail
      # @return [Array<Integer>] their numbers, in order
      def add_each(what, cause, kind, rows)
        now = root.epoch
        ids = insert_all(:journal, rows.map { |given| row(what, cause, kind:, epoch: now, **given) })
        waits = rows.zip(ids).map { |given, id| {entry_id: id, record_id: Lane.of(given[:record_id], nil)} }
        db[:waiting].multi_insert(waits) if heard?(what, cause)
        ids
      end

      # Adds an entry about a record that stays as it is.
      # @param record [Hash] row with its id and kind
      # @param image [Hash, nil]
      # @return [Integer] its number
      def add_about(what, cause, record, detail, image: nil) =
        add(what, cause, record_id: record[:id], kind: record[:kind], before: image, after: image, detail:)

      # Adds an entry about a task that says something of it, and is no change of it.
      # @param task [Hash] row
      # @return [Integer] its number
      def add_about_task(what, cause, task, text, **more)
        detail = {"title" => task[:title], "text" => text, **more.transform_keys(&:to_s)}
        add(what, cause, task_id: task[:id], record_id: task[:record_id], kind: task[:kind], detail:)
      end

      # Adds many entries about tasks at one go. They wait for the worker only where a rule in force, or a kit, looks at
      # such.
      def add_all(rows)
        return [] if rows.empty?

        now = root.epoch
        ids = insert_all(:journal, rows.map { |what, cause, given| row(what, cause, epoch: now, **given) })
        waits = Hash.new { |known, seen| known[seen] = @watching.looks_at_task?(*seen) }
        watched =
          rows.zip(ids).filter_map do |(what, cause, given), id|
            next if cause.unheard || !waits[[given[:kind], what]]

            {entry_id: id, record_id: Lane.of(*given.values_at(:record_id, :task_id))}
          end
        db[:waiting].multi_insert(watched)
        ids
      end

      # Adds entries of timers that fire, and leaves them to whoever settles them.
      # @param rows [Array<Array(Cause, Hash)>] each with the columns record_id, kind, task_id, before and detail
      # @return [Array<Hash>] rows as they stand in the journal, without their texts read back
      def add_fired(rows)
        return [] if rows.empty?

        now = root.epoch
        plain = rows.map { |cause, given| row("timer_fired", cause, epoch: now, **given) }
        insert_all(:journal, plain).zip(plain).map { |id, columns| columns.merge(id:) }
      end

      # @return [Core::Event]
      def event(row)
        Core::Event.new(
          **row.slice(:id, :what, :kind, :record_id), before: load(row[:before]),
          after: load(row[:after]), **row.slice(:who, :at, :depth, :cause_rule),
          detail: load(row[:detail])
        )
      end

      # What an entry is to rules: something that happened to a record, and where rules are about tasks, also to its
      # task.
      # @param event [Core::Event]
      # @param epoch [Integer] in which it happened
      # @param rule [Core::CompiledRule, nil] the one whose timer it is, where it is one
      # @return [Array<Core::Event>]
      def views(event, epoch, rule = nil)
        return [rule&.kind&.task? ? event.of_task : event] if event.what == "timer_fired"
        return [event] unless TASKS.include?(event.what) && @watching.about_tasks?(epoch)

        event.kind ? [event, event.of_task] : [event.of_task]
      end

      # @param ids [Array<Integer>]
      # @return [Array<Hash>] in order
      def entries(ids) = table.where(id: ids).order(:id).all

      # @return [Hash{Integer => Integer}] by entry, the task that it is about
      def tasks_of(ids) = ids.empty? ? {} : table.where(id: ids).exclude(task_id: nil).select_hash(:id, :task_id)

      # @return [Hash]
      # @raise [NotFound]
      def find!(id) = table.where(id:).first || raise(NotFound, "There is no entry #{id} in the journal.")

      # @param record [Integer, nil] of this record
      # @param kind [String, nil] of records of this kind
      # @param from, till [Time, nil]
      # @param before [Integer, nil] number to go on from
      # @return [Array<Hash>] entries that rules can watch, newest first
      def watched(record: nil, kind: nil, from: nil, till: nil, before: nil, limit: 100)
        found = db.from(watched_by(record, kind)).where(what: WATCHED).reverse(:id).limit(limit)
        found = found.where(record_id: record) if record
        found = found.where(kind:) if kind
        found = found.where { Sequel[:id] < before } if before
        found = found.where { Sequel[:at] < till } if till
        from ? found.where(Sequel[:at] >= from).all : found.all
      end

      # So far back it is looked for what happened to tasks at one go; there is no index of it.
      REACH = 20_000
      private_constant :REACH

      # What happened to tasks, whatever they are about, newest first.
      # @param from, till, before, limit see +watched+
      # @return [Array(Array<Hash>, Integer, nil)] entries, and where to go on where there may be more further back
      def watched_tasks(from: nil, till: nil, before: nil, limit: 100)
        top = before || table.max(:id).to_i + 1
        floor = [top - REACH, 0].max
        found = table.where(id: floor...top, what: TASKS).reverse(:id).limit(limit)
        found = found.where { Sequel[:at] < till } if till
        found = found.where(Sequel[:at] >= from) if from
        [found.all, (floor if floor > 1)]
      end

      KITS = %w[kit_begun kit_dated kit_passed kit_stopped kit_moved_on kit_done kit_stuck].freeze

      # @return [Array<Hash>] what kits in use on a record did, newest first
      def of_kits(record_id, from: nil, limit: 50)
        found = table.where(record_id:, what: KITS).reverse(:id).limit(limit)
        from ? found.where(Sequel[:at] >= from).all : found.all
      end

      # @return [Array<Hash>] what a run caused
      def caused_by(run_id, limit: 200) = table.where(cause_run: run_id).order(:id).limit(limit).all

      # @return [Hash] an entry that rules can watch
      # @raise [NotFound]
      def find_watched!(id)
        entry = find!(id)
        return entry if WATCHED.include?(entry[:what])

        raise NotFound, "Entry #{id} is one that no rule watches; ask about something that happened to a record."
      end

      # @return [Hash, nil] the image of a record when it had this version
      def image_at_version(record_id, version) =
        load(table.where(record_id:, record_version: version).reverse(:id).get(:after))

      private

      def heard?(what, cause) = QUEUED.include?(what) && !cause.unheard

      # Of a kind to which little happens the newest entries are far apart; left alone, MariaDB would go back through
      # all.
      def watched_by(record, kind)
        return :journal unless record || kind

        Sequel.lit("`journal` FORCE INDEX (`#{record ? "journal_of_record" : "journal_of_kind"}`)")
      end

      # The epoch is asked for before the insert: a subquery within it would wait for publications that are under way.
      # One that comes between is one that came after the entry.
      def row(
        what, cause, record_id: nil, kind: nil, task_id: nil, before: nil, after: nil, detail: nil, epoch: root.epoch
      )
        raise ArgumentError, "Core::Story has no words for #{what}" unless Core::Story.knows?(what)

        {
          what:, record_id:, kind:, task_id:, who: cause.who, cause_run: cause.run,
          cause_rule: cause.rule, depth: cause.depth, epoch:, record_version: after && after["version"],
          at: cause.at, before: dump(before), after: dump(after), detail: dump(detail)
        }
      end
    end
  end
end
