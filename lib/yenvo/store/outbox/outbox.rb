# frozen_string_literal: true

module Yenvo
  module Store
    # Messages that leave the house. Each is written in the transaction of what it tells of, and sent by a sender later:
    # at least once, always with the same message id. A sender claims some for a while and holds no transaction open
    # while the network waits; what it does not settle in that time another takes.
    class Outbox < Base
      keeps :deliveries

      # Seconds until the next try after each that failed; after the last it is given up.
      PAUSES = [60, 300, 1_800, 7_200, 43_200, 86_400, 86_400, 86_400].freeze
      # Seconds for which a claim holds, longer than any try takes.
      CLAIM = 120
      # So many failures in a row, and a destination rests: one probe a minute.
      TIRED = 5
      PROBE = 60
      PAGE = 50
      STATES = %w[waiting sent failed stopped].freeze
      # What stands in place of a content that is secret, and is kept of it once it has gone.
      GONE = "It holds a link that lets somebody in, so what it says is not shown and not kept."

      # A message that is to be written. way: how it goes, such as "mail"; destination: what takes it, such as the mail
      # server, all that goes there rests together; content: plain, as it will go: to, subject and what the way needs
      # besides; cause: Journal::Cause; due: Time at which it leaves; secret: whether what it says is not kept once it
      # has gone; record_id, kind: the record that it is about; place: row and number of the action that wrote it;
      # words: what it is, for the history of the record.
      New = Core::Value.define(:way, :destination, :content, :cause, :due, secret: false, record_id: nil, kind: nil,
        place: nil, words: nil) do
        # @return [Boolean] whether a rule wrote it, and nobody sent it off
        def of_rule? = cause.who.nil? && !cause.run.nil?
      end

      class << New
        # @param step [Core::Effects::SendOut]
        # @param place [Array(String, Integer)] row and number of the action
        # @param entry [Hash] row of the journal that the run is about
        def of(step, place, cause, entry)
          task, content = entry[:task_id], step.content
          new(
            way: step.way, destination: step.destination, words: step.words, due: step.leaves_at,
            content: task ? content.merge(thread(task)) : content, record_id: step.record, place:, cause:,
            kind: entry[:kind]
          )
        end

        # @param task [Integer, nil]
        # @return [Hash] under which mails about a task stand together
        def thread(task) = task ? {"thread" => "task-#{task}"} : {}
      end

      # @return [Integer] id
      def add(way, destination, content, cause:, due: cause.at, **more) =
        write([New.new(way:, destination:, content:, cause:, due:, **more)])[0]

      # What rules write by themselves, however much, with one insert. The history of the record tells of it beside what
      # the rule met.
      # @param wanted [Array<New>]
      def write_of_rules(wanted) = wanted.any? && insert_columns(:deliveries, MessageColumns.of(wanted), ids: false)

      # The same for any. What no rule wrote by itself has an entry of its own in the history.
      # @param wanted [Array<New>]
      # @return [Array<Integer>] ids
      def write(wanted)
        return [] if wanted.empty?

        ids = insert_columns(:deliveries, MessageColumns.of(wanted))
        told = wanted.zip(ids).select { |new, _| new.record_id && new.words && !new.of_rule? }
        root.journal.add_all(told.map { |new, id| entry(new, id) })
        ids
      end

      # What rules wrote by themselves.
      # @param run_ids [Array<Integer>]
      # @return [Hash{Integer => Array<Hash>}] rows by run, without what they say, the newest first
      def of_runs(run_ids)
        return {} if run_ids.empty?

        found = table.where(run_id: run_ids, by: nil).exclude(words: nil).reverse(:id)
        found.select(:id, :run_id, :rule_id, :record_id, :words, :made_at, :state, :back_at).to_hash_groups(:run_id)
      end

      # @param ways [Array<String>] those that the sender knows
      # @param except [Array<String>] destinations of which it has enough in hand
      # @param of_one [Integer] messages of one destination at most
      # @return [Array<Hash>] rows that are this sender's to send now; of a destination that rests a probe alone, and of
      #   one that takes so many a minute no more than that
      def claim(ways:, now:, limit: 20, of_one: limit, except: [])
        root.transaction do
          tired = rests.where { failures >= TIRED }
          due = due(ways, [*except, *paces.full(now)], now)
          rows = due.exclude(destination: tired.select(:destination)).limit(limit).for_update.skip_locked.all
          rows = rows.group_by { |row| row[:destination] }.each_value.flat_map { |some| some.first(of_one) }
          hold(paces.take(rows + probes(tired, due, now), now), now + CLAIM)
        end
      end

      # Gives back what was claimed and not tried.
      def release(rows, now:)
        mine = table.where(id: column(rows, :id), state: "waiting")
        mine.update(due_at: now, held_till: nil, tries: Sequel[:tries] - 1)
      end

      # What waited for a destination to answer again goes now; what somebody has in hand is due sooner, and stays.
      # @param answer [String] what the other side said
      def sent(row, answer, now:)
        settle(row, "sent", answer, now)
        destination = row[:destination]
        return if rests.where(destination:).delete.zero?

        waits = table.where(destination:, state: "waiting").where { tries > 0 }
        waits.where { due_at > now + CLAIM }.update(due_at: now)
      end

      # @param never [Boolean] whether another try would come to the same
      # @param rest [Boolean] whether it is the fault of the destination, not of the message
      # @param after [Integer, nil] seconds that the other side asks to wait
      # @return [String] its state now
      def failed(row, answer, now:, never: false, rest: true, after: nil)
        root.transaction do
          tire(row[:destination], now) if rest && !never
          pause = PAUSES[row[:tries] - 1]
          next settle(row, "failed", answer, now) if never || pause.nil?

          note(row, false, answer, now)
          due_at = now + [pause, after.to_i].max
          table.where(id: row[:id], state: "waiting").update(due_at:, held_till: nil, answer: cut(answer))
          "waiting"
        end
      end

      # Keeps one from leaving.
      # @raise [Refused, NotFound]
      def stop(id, cause:)
        root.transaction do
          why = why_not_stopped(row = lock!(id), cause.at)
          refuse("delivery", "It #{why}, so there is nothing to stop.") if why
          table.where(id:).update(state: "stopped", settled_at: cause.at, **emptied(row))
        end
      end

      # The same for what a run wrote that is undone.
      # @return [String, nil] why it stays
      def take_back(id, cause:)
        row = table.where(id:).for_update.first or return "is gone"
        return if row[:state] == "stopped"

        why = why_not_stopped(row, cause.at)
        table.where(id:).update(state: "stopped", settled_at: cause.at) unless why
        why
      end

      # Has one sent now that waits, or once more that failed or was stopped.
      # @raise [Refused, NotFound]
      def again(id, cause:)
        root.transaction do
          row = lock!(id)
          refuse("delivery", "It has been sent already.") if row[:state] == "sent"
          if row[:secret] && row[:state] != "waiting"
            refuse("delivery", "What it said is not kept, so it cannot go again. Make another link.")
          end
          # One in hand is left to whoever has it.
          held = row[:held_till] && row[:held_till] > cause.at
          table.where(id:).update(anew(cause)) unless held
        end
      end

      # Has all sent once more that failed at one destination, but for what holds a secret that is not kept.
      # @return [Integer] how many
      def all_again(destination, cause:) =
        table.where(destination:, state: "failed", secret: false).update(anew(cause))

      # @param where [Hash] columns, such as state, rule_id, record_id, run_id or destination, to what they hold
      # @param from, till [Time, nil] when it was written
      # @param before [Integer, nil] id to go on from
      # @return [Array<Hash>] rows, the newest first
      # @param back [Boolean] only what came back
      def page(where: {}, from: nil, till: nil, before: nil, back: false, limit: PAGE)
        found = table.where(where).reverse(:id).limit(limit)
        found = found.exclude(back_at: nil) if back
        found = found.where { made_at >= from } if from
        found = found.where { made_at < till } if till
        older(found, before)
      end

      # @param run_id [Integer]
      # @return [Hash{Array(String, Integer) => String}] how what each action wrote fares
      def states_of_run(run_id) = table.where(run_id:).select_hash(%i[branch action], :state)

      # @param run_id [Integer]
      # @param place [Array(String, Integer)] of the action
      # @return [Array<Integer>] ids
      def of_action(run_id, place) = table.where(run_id:, branch: place[0], action: place[1]).select_order_map(:id)

      # @param ids [Array<Integer>]
      # @return [Hash{Integer => String}] how each fares
      def states(ids)
        return {} if ids.empty?

        table.where(id: ids).select(:id, :state, :back_at).to_hash(:id).transform_values { |row| Outbox.fares(row) }
      end

      # @param row [Hash]
      # @return [String] how it fares
      def self.fares(row) = row[:back_at] ? "back" : row[:state]

      # Marks one that had been taken, and came back all the same.
      # @param words [String] why
      def came_back(row, words, now:)
        root.transaction do
          note(row, false, "Came back: #{words}", now)
          table.where(id: row[:id]).update(back_at: now, back: cut(words))
        end
      end

      # @return [Array<Hash>] destinations to which something failed, and how many
      def failed_by_destination = table.where(state: "failed").group_and_count(:destination).order(:destination).all

      # @raise [NotFound]
      def find!(id) = table.where(id:).first || raise(NotFound, "There is no message #{id} in the outbox.")

      # @return [Array<Hash>] each try with its answer, the first first
      def tries(id) = all_tries.where(delivery_id: id).order(:id).all

      # What has gone is not counted, since that grows for good.
      # @return [Hash{String => Integer}] how many there are by state
      def counts = unsettled.group_and_count(:state).as_hash(:state, :count)

      # @return [Hash{Array(String, String) => Integer}] the same by way and state
      def counts_by_way = unsettled.group_and_count(:way, :state).as_hash(%i[way state], :count)

      # @return [Array<Hash>] destinations that rest, and when the next probe goes
      def resting = rests.where { failures >= TIRED }.select(:destination, :failures, :probe_at).all

      # @return [Time, nil] when the oldest that waits was made
      def oldest = table.where(state: "waiting").min(:made_at)

      private

      def entry(new, id)
        detail = {"text" => new.words, "delivery" => id}
        ["message_written", new.cause, {record_id: new.record_id, kind: new.kind, detail:}]
      end

      def anew(cause) = {state: "waiting", due_at: cause.at, settled_at: nil, tries: 0}

      # @param shut [Array<String>] destinations to which nothing goes now
      def due(ways, shut, now)
        found = table.where(state: "waiting", way: ways).where { due_at <= now }.order(:due_at, :id)
        shut.any? ? found.exclude(destination: shut) : found
      end

      def hold(rows, till)
        table.where(id: column(rows, :id)).update(due_at: till, held_till: till, tries: Sequel[:tries] + 1)
        rows.map { |row| row.merge(tries: row[:tries] + 1, content: load(row[:content])) }
      end

      # One of each destination whose minute has come; nobody else probes it for a minute then.
      def probes(tired, due, now)
        ripe = tired.where { (probe_at =~ nil) | (probe_at <= now) }.for_update.skip_locked.select_map(:destination)
        ripe.filter_map do |destination|
          rests.where(destination:).update(probe_at: now + PROBE)
          due.where(destination:).limit(1).for_update.skip_locked.first
        end
      end

      def tire(destination, now)
        rests.on_duplicate_key_update(failures: Sequel[:failures] + 1, probe_at: now + PROBE)
          .insert(destination:, failures: 1, probe_at: now + PROBE)
      end

      def settle(row, state, answer, now)
        root.transaction do
          note(row, state == "sent", answer, now)
          table.where(id: row[:id]).update(state:, settled_at: now, held_till: nil, answer: cut(answer), **emptied(row))
        end
        state
      end

      def note(row, sent, answer, at) = all_tries.insert(delivery_id: row[:id], at:, sent:, answer: cut(answer))

      def emptied(row)
        row[:secret] ? {content: dump(bare(row))} : {}
      end

      def bare(row) = row.slice(:to, :subject).merge(text: GONE)

      # @return [String, nil] why it leaves all the same
      def why_not_stopped(row, now)
        return "is just leaving" if row[:state] == "waiting" && row[:held_till] && row[:held_till] > now

        {"sent" => "has left already", "failed" => "has failed already", "stopped" => "is stopped already"}[row[:state]]
      end

      def all_tries = db[:delivery_tries]
      def unsettled = table.where(state: STATES - ["sent"])
      def rests = db[:rests]
      def paces = @paces ||= Paces.new(root)
      def cut(text) = text.to_s.scrub("?")[0, 500]
      def lock!(id) = table.where(id:).for_update.first || find!(id)
    end
  end
end
