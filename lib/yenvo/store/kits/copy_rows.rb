# frozen_string_literal: true

module Yenvo
  module Store
    # Kits in use, read; and what all that changes them has in common.
    class CopyRows < Base
      keeps :kit_copies

      # @raise [NotFound]
      def find!(id) =
        table.where(id:).first || raise(NotFound, "There is no kit in use with the number #{id}.")

      PAGE = 20

      # @param before [Integer, nil] id to go on from
      # @return [Array<Hash>] copies on a record, the newest first
      def of_record(id, before: nil)
        older(table.where(record_id: id).reverse(:id).limit(PAGE), before)
      end

      # @return [Integer]
      def count_of_record(id) = table.where(record_id: id).count

      # @return [Hash{Integer => Integer}] running copies by kit
      def running(kit_ids) =
        table.where(kit_id: kit_ids, state: "running").group_and_count(:kit_id).as_hash(:kit_id, :count)

      # @return [Hash{Integer => Integer}] running copies by version of a kit
      def by_version(kit_id) =
        table.where(kit_id:, state: "running").group_and_count(:version_id)
          .as_hash(:version_id, :count)

      # @return [Array<Hash>] running copies of a kit, the oldest first
      def running_of(kit_id, limit: 100) =
        table.where(kit_id:, state: "running").order(:id).limit(limit).all

      # How far the kits of the records that tasks opened have come. Tasks that are not needed do not count.
      # @param task_ids [Array<Integer>]
      # @return [Hash{Integer => Hash}] by task: done, all, state, record_id
      def children(task_ids)
        return {} if task_ids.empty?

        copies = table.where(task_id: task_ids).all
        states = states_of(copies)
        copies.to_h do |copy|
          progress = states[copy[:id]]&.progress
          keys = progress ? states[copy[:id]].kit.kit.tasks.map(&:key) - progress.not_needed : []
          done = keys.count { |key| progress.of(key) == :over }
          [copy[:task_id], {done:, all: keys.size, **copy.slice(:state, :record_id)}]
        end
      end

      # @return [Set<Array(Integer, Integer)>] record and kit of those that are in use among pairs
      def taken(pairs)
        return Set.new if pairs.empty?

        found = table.where(%i[record_id kit_id] => pairs.uniq, :state => "running")
        found.select_map(%i[record_id kit_id]).to_set
      end

      # The kits in use on a record, for looking ahead.
      # @return [Array<Hash>] id, kit, anchor, follows (own field or nil), passed
      def running_on(record_id)
        copies = table.where(record_id:, state: "running").order(:id).all
        copies.filter_map do |copy|
          kit = root.kits.compiled(copy[:version_id]) or next
          anchor = copy[:anchor_on] || copy[:anchor]
          {id: copy[:id], kit:, anchor:, follows: copy[:anchor_field], passed: load(copy[:passed])}
        end
      end

      # @param copy [Hash] row
      # @return [State]
      def state_of(copy)
        state = as_it_is(copy)
        return state if state.kit

        refuse(
          "kit",
          "The version of the kit that it uses does not fit the set-up any more. Move it to a newer one or stop it."
        )
      end

      # Where many copies stand, by one query for all their tasks.
      # @param copies [Array<Hash>] rows
      # @return [Hash{Integer => State}] by copy; without those whose version no longer fits the set-up
      def states_of(copies)
        return {} if copies.empty?

        rows = root.task_rows.of_copies(column(copies, :id)).order(:id).all.group_by { |row| row[:copy_id] }
        states =
          copies.map do |copy|
            kit = root.kits.compiled(copy[:version_id])
            CopyState.new(copy:, kit:, tasks: rows.fetch(copy[:id], []))
          end
        states.select(&:kit).to_h { |state| [state.copy[:id], state] }
      end

      private

      # @return [Array] an entry for the journal
      def entry(what, copy, name, cause, detail)
        said = {"kit" => name, "copy" => copy[:id], **detail}
        [what, cause, {record_id: copy[:record_id], kind: copy[:kind], detail: said}]
      end

      def facts(record, kit, cause, desk)
        image = {**Image.of(record), "id" => record[:id]}
        event = Core::Event.look(record[:kind], image, at: cause.at, what: "kit", who: cause.who)
        root.snapshots.facts([event], desk:) { kit.needs }.first
      end

      # Also when its version no longer fits the set-up: kit is nil then. So it can still be stopped or moved on.
      def as_it_is(copy)
        tasks = root.task_rows.of_copies(copy[:id]).order(:id).all
        CopyState.new(copy:, kit: root.kits.compiled(copy[:version_id]), tasks:)
      end

      def reread(state) = state_of(find!(state.copy[:id]))

      # From which date it counts: its field as it is now, else the moment kept when it began.
      def anchor_of(copy, kit, facts, now)
        if copy[:anchor_field] && kit.kit.moves == "follow"
          kit.anchor(facts, now:)
        else
          copy[:anchor_on] || copy[:anchor]
        end
      end

      def log(what, copy, cause, detail = {}, name: root.kits.names([copy[:kit_id]])[copy[:kit_id]])
        _, _, columns = entry(what, copy, name, cause, detail)
        root.journal.add(what, cause, **columns)
      end

      # What cannot be done whole leaves nothing behind.
      def whole_or_stuck(copy, now)
        db.transaction(savepoint: true) { yield }
      rescue Breakage => error
        log_trouble(copy, error, now)
      end

      # A kit that cannot go on must not keep the worker from its other work; the record says what is wrong.
      def log_trouble(copy, error, now)
        why = Breakage.sentence(error, copy: copy[:id])
        kit = root.kits.find!(copy[:kit_id])
        said = "The kit “#{kit[:name]}” is stuck: #{why}"
        whom = [copy[:begun_by], kit[:owner]].compact.uniq
        root.notices.add(whom, said, at: now, what: "stuck", record_id: copy[:record_id])
        log("kit_stuck", copy, Journal::Cause.house(now), {"why" => why}, name: kit[:name])
      end
    end
  end
end
