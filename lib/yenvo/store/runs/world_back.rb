# frozen_string_literal: true

module Yenvo
  module Store
    # Takes back what one run did, verb by verb, from what each has kept; what people have changed since stays.
    class WorldBack < Base
      # Records that lead to one that goes, which are named.
      MOST_NAMED = 5

      # @param run [Hash] row, locked
      # @param cause [Journal::Cause]
      def initialize(root, run, cause)
        super(root)
        @run = run
        @cause = cause
        # The version of each task that only this run has changed.
        @untouched = {}
      end

      # @param kept [Hash] a step as the run keeps it
      # @return [Array<Undo::Item>]
      def step_back(kept)
        @title, *@place = kept.values_at("title", "row", "number")
        Core::Effects.of(kept).take_back(self, kept["did"] || {})
      end

      # What hangs on the run itself: tasks that it made, tasks that wait to be sent, what was left for later.
      # @return [Array<Undo::Item>]
      def rest_back = tasks_back + proposals_back + later_back

      def nothing_back(_did) = []
      def stop_save_back(_did) = []

      def change_record_back(did)
        return [] unless did["record"]

        row = locked(did["record"]) or return [item(@title, "the record is gone")]
        fields_back(row, did["from"], did["to"])
      rescue Refused => error
        [item(@title, Breakage.sentence(error))]
      end

      # A record goes when nobody has touched it and nothing hangs on it.
      def make_record_back(did)
        row = locked(did["record"]) or return [item(@title, "it is gone already")]

        why = why_it_stays(row, did)
        words = "#{schema.kind(row[:kind])&.label || "Record"} “#{row[:title]}”"
        left = why ? [] : leading_to(row[:id])
        remove(row) unless why
        named = left.map { |title| "“#{title}”" }.join(", ")
        [item(left.empty? ? words : "#{words}; what leads to it will lead to nothing: #{named}", why)]
      end

      def put_on_list_back(did) = did["made"] ? make_record_back(did) : []

      def take_off_list_back(did)
        did["gone"].to_a.map do |image|
          gone = db[:records].where(id: image["id"]).empty?
          free = gone && root.list_entries.of(image["about"].to_i, image["kind"]).empty?
          root.list_entries.put_back(image, cause: @cause) if free
          item(@title, free ? nil : "it is on the list again already")
        end
      end

      def log_interaction_back(did)
        note = db[:interactions].where(id: did["interaction"], edited_at: nil).first
        root.interactions.take_back(note) if note
        [item(@title, note ? nil : "it was changed since, or is gone")]
      end

      def tell_persons_back(did)
        found = db[:notices].where(id: did["notices"] || []).delete
        [item(@title, found.zero? ? "nobody was told" : nil)]
      end

      # What was asked about first hangs on the run itself until it is sent.
      def send_out_back(_did)
        root.outbox.of_action(@run[:id], @place).map do |id|
          why = root.outbox.take_back(id, cause: @cause)
          item(@title, why && "it #{why}")
        end
      end

      def make_paper_back(did) = did["files"].to_a.map { |id| file_back(id) }

      # Who was named hears no more of it.
      def comment_on_task_back(did)
        gone = db[:comments].where(id: did["comments"].to_a).delete
        db[:notices].where(run_id: @run[:id], what: "mention").delete
        if did["comments"].to_a.empty?
          []
        else
          [item(@title, gone.zero? ? "it is gone already" : nil)]
        end
      end

      def change_tasks_back(did)
        did["tasks"].to_a.map do |one|
          id = one["id"]
          title = root.task_rows.title(id)&.fetch(:title)
          # What the run changed twice is put back twice.
          back = root.tasks_by_rule.put_back(one, cause: @cause, version: @untouched.fetch(id, one["version"]))
          @untouched[id] = back if back
          item("Task “#{title}”: back to what it was", back ? nil : "somebody has changed it since")
        end
      end

      # A kit stops when nobody has worked on its tasks; these are dropped with the other tasks of the run.
      def begin_kit_back(did)
        copies = db[:kit_copies].where(run_id: @run[:id])
        copies = copies.where(id: did["copy"]) if did.key?("copy")
        copies.all.map { |copy| copy_back(copy) }
      end

      # The tasks of a run go together; so does what it left for later.
      def make_task_back(_did) = []
      def begin_ladder_back(_did) = []
      def leave_rest_back(_did) = []

      private

      def file_back(id)
        root.attachments.remove(id, cause: @cause)
        item(@title)
      rescue NotFound
        item(@title, "it is gone already, or what it was attached to is")
      end

      def item(words, why = nil) = Undo::Item.new(run: @run[:id], words:, back: why.nil?, why:)
      def locked(id) = db[:records].select(*Image::COLUMNS).where(id:).for_update.first

      def fields_back(row, from, to)
        now = Image.of(row)
        keys = (from.keys | to.keys).reject { |key| from[key] == to[key] }
        same, other = keys.partition { |key| now[key] == to[key] }
        root.records.change(row[:id], same.to_h { |key| [key, from[key]] }, cause: @cause) if same.any?
        same.map { |key| item("#{field_words(row, key)}: back to #{show(row, key, from[key])}") } +
          other.map { |key| item(field_words(row, key), "it was changed since, to #{show(row, key, now[key])}") }
      end

      def field_of(row, key) = schema.kind!(row[:kind]).field(key)
      def field_words(row, key) = "#{field_of(row, key)&.label || key} of #{row[:title]}"

      def show(row, key, value)
        field = field_of(row, key)
        field ? Core::Show.value(field, value, schema) : value.to_s
      end

      def why_it_stays(row, did)
        others = {record_id: row[:id]}
        if row[:version] != did["version"]
          "somebody has changed it since"
        elsif root.task_rows.about(row[:id]).exclude(run_id: @run[:id]).exclude(state: "dropped").any?
          "it has tasks"
        elsif db[:interactions].where(others).exclude(run_id: @run[:id]).any?
          "something was logged on it"
        elsif !db[:attachments].where(others).empty?
          "it has files"
        end
      end

      # @return [Array<String>] titles of the first few records whose fields lead to one
      def leading_to(id)
        db[:links].where(target_id: id).exclude(field: "").join(:records, id: :record_id).order(Sequel[:records][:id])
          .limit(MOST_NAMED).select_map(:title)
      end

      def remove(row)
        image = Image.of(row)
        about = {record_id: row[:id], kind: row[:kind]}
        entry = root.journal.add("record_removed", @cause, **about, before: image, detail: {"title" => row[:title]})
        root.happened.record_gone(schema.kind!(row[:kind]), image, entry, @cause)
        db[:records].where(id: row[:id]).delete
      end

      def copy_back(copy)
        touched = (Sequel[:open] =~ false) | (Sequel[:version] > 1)
        worked = root.task_rows.of_copies(copy[:id]).where(touched).get(:title)
        running = db[:kit_copies].where(id: copy[:id], state: "running")
        running.update(state: "stopped", ended_at: @cause.at) unless worked
        why = "“#{worked}” was worked on; stop the kit on the record instead" if worked
        item("Kit “#{root.kits.names([copy[:kit_id]])[copy[:kit_id]]}”", why)
      end

      # Tasks that nobody has touched are dropped.
      def tasks_back
        # Nobody has been given anything.
        db[:notices].where(run_id: @run[:id], what: "given").delete
        root.task_rows.made_by_run(@run[:id]).reverse(:id).for_update.all.map do |task|
          untouched = task[:open] && task[:version] == @untouched.fetch(task[:id], 1)
          root.tasks.drop(task[:id], note: "The run that made it was undone.", cause: @cause) if untouched
          stays = task[:open] ? "somebody has changed it since" : "it is #{task[:state]}"
          item("Task “#{task[:title]}”", untouched ? nil : stays)
        end
      end

      # Tasks that wait to be sent are thrown away.
      def proposals_back
        db[:proposals].where(run_id: @run[:id], state: "open").for_update.all.map do |row|
          db[:proposals].where(id: row[:id]).update(state: "thrown", settled_at: @cause.at)
          words = row[:task] ? "Task “#{load(row[:task])["title"]}”" : load(row[:message])["words"]
          item("#{words}, not sent yet")
        end
      end

      # What was left for later is not done any more.
      def later_back =
        root.timers.end_of_run(@run[:id]).map do |row|
          item((row[:purpose] == "wait") ? "The rest behind a wait" : "A ladder")
        end
    end
  end
end
