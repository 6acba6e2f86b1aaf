# frozen_string_literal: true

module Yenvo
  module Store
    # Takes back what runs made and set, except what people have changed since, and says which is which.
    class Undo < Part
      MOST = 500

      # One thing that a run did. words: what it was; back: whether it can be taken back; why: why not, nil when it can.
      Item = Core::Value.define(:run, :words, :back, :why)

      # @param runs [Array<Hash>] rows
      # @return [Array<Item>] what would be taken back and what would stay; nothing is written
      def preview(runs)
        items = nil
        db.transaction(savepoint: true) do
          items = take_back(runs, Journal::Cause.new(who: nil, at: runs.map { |run| run[:at] }.max || Time.at(0), run: nil, rule: nil, depth: 0))
          raise Sequel::Rollback
        end
        items
      end

      # @return [Array<Item>] what was taken back and what stays
      def run(runs, cause:)
        root.transaction { take_back(runs, cause) }
      end

      # @return [Array<Hash>] runs of a rule since a moment that can still be undone, newest first
      def since(rule_id, from)
        db[:runs].where(rule_id: rule_id, state: "ran").where(Sequel[:at] >= from).reverse(:id).limit(MOST).all
      end

      private

      # Newest first, and in each run the last step first, so that what came later gives way before what it stands on.
      def take_back(runs, cause)
        runs.sort_by { |run| -run[:id] }.flat_map do |run|
          locked = db[:runs].where(id: run[:id], state: "ran").for_update.first or next [Item.new(run: run[:id], words: "This run", back: false, why: "it was undone already, or it failed")]

          items = load(locked[:actions]).reverse.flat_map { |action| undo(action, locked, cause) }.compact
          items += tasks_of(locked, cause) + proposals_of(locked, cause) + later_of(locked)
          db[:runs].where(id: run[:id]).update(state: "undone", undone_at: cause.at, undone_by: cause.who, once_key: nil)
          items
        end
      end

      def undo(action, run, cause)
        did = action["did"] || {}
        case action["action"]
        when "set", "assign", "move" then did["record"] && fields(action, did, run, cause)
        when "record" then [made(action, did, run, cause)]
        when "list" then did["gone"] ? did["gone"].map { |image| put_back(action, image, run, cause) } : [did["made"] && made(action, did, run, cause)]
        when "log" then [logged(action, did, run)]
        when "notice" then [item(run, action["title"], db[:notices].where(id: did["notices"] || []).delete.positive?, "nobody was told")]
        when "kit" then db[:kit_copies].where(run_id: run[:id]).all.map { |copy| kit(copy, run, cause) }
        when "tasks" then (did["tasks"] || []).map { |one| changed_task(one, run, cause) }
        end
      end

      def item(run, words, back, why) = Item.new(run: run[:id], words: words, back: back, why: back ? nil : why)

      # Tasks that wait to be sent are thrown away.
      def proposals_of(run, cause)
        db[:proposals].where(run_id: run[:id], state: "open").for_update.all.map do |row|
          db[:proposals].where(id: row[:id]).update(state: "thrown", settled_at: cause.at)
          item(run, "Task “#{load(row[:task])["title"]}”, not sent yet", true, nil)
        end
      end

      # What was left for later is not done any more.
      def later_of(run) = root.timers.end_of_run(run[:id]).map { |row| item(run, (row[:purpose] == "wait") ? "The rest behind a wait" : "A ladder", true, nil) }

      # Tasks that nobody has touched are dropped.
      def tasks_of(run, cause)
        # Nobody has been given anything.
        db[:notices].where(run_id: run[:id], what: "given").delete
        db[:tasks].where(run_id: run[:id]).reverse(:id).for_update.all.map do |task|
          untouched = task[:open] && task[:version] == 1
          root.tasks.drop(task[:id], note: "The run that made it was undone.", cause: cause) if untouched
          item(run, "Task “#{task[:title]}”", untouched, task[:open] ? "somebody has changed it since" : "it is #{task[:state]}")
        end
      end

      def fields(action, did, run, cause)
        row = db[:records].select(*Image::COLUMNS).where(id: did["record"]).for_update.first or return [item(run, action["title"], false, "the record is gone")]

        now = Image.of(row)
        type = root.schema.kind!(row[:kind])
        keys = (did["from"].keys | did["to"].keys).reject { |key| did["from"][key] == did["to"][key] }
        same, other = keys.partition { |key| now[key] == did["to"][key] }
        root.records.change(row[:id], same.to_h { |key| [key, did["from"][key]] }, cause: cause) if same.any?
        same.map { |key| item(run, "#{label(type, key)} of #{row[:title]}: back to #{show(type, key, did["from"][key])}", true, nil) } +
          other.map { |key| item(run, "#{label(type, key)} of #{row[:title]}", false, "it was changed since, to #{show(type, key, now[key])}") }
      rescue Refused => error
        [item(run, action["title"], false, error.message)]
      end

      def label(type, key) = type.field(key)&.label || key
      def show(type, key, value) = type.field(key) ? Core::Show.value(type.field(key), value, root.schema) : value.to_s

      # A record that a run made goes when nobody has touched it and nothing hangs on it.
      def made(action, did, run, cause)
        row = db[:records].select(*Image::COLUMNS).where(id: did["record"]).for_update.first or return item(run, action["title"], false, "it is gone already")

        why = if row[:version] != did["version"] then "somebody has changed it since"
        elsif !db[:tasks].where(record_id: row[:id]).exclude(run_id: run[:id]).exclude(state: "dropped").empty? then "it has tasks"
        elsif !db[:interactions].where(record_id: row[:id]).exclude(run_id: run[:id]).empty? then "something was logged on it"
        end
        words = "#{root.schema.kind(row[:kind])&.label || "Record"} “#{row[:title]}”"
        left = why ? [] : leading_to(row[:id])
        remove(row, cause) unless why
        item(run, left.empty? ? words : "#{words}; what leads to it will lead to nothing: #{left.map { |title| "“#{title}”" }.join(", ")}", why.nil?, why)
      end

      # @return [Array<String>] titles of the first few records whose fields lead to one
      def leading_to(id)
        db[:links].where(target_id: id).exclude(field: "").join(:records, id: :record_id).order(Sequel[:records][:id]).limit(MOST_NAMED).select_map(:title)
      end
      MOST_NAMED = 5

      def remove(row, cause)
        image = Image.of(row)
        entry = root.journal.add("record_removed", cause, record_id: row[:id], kind: row[:kind], before: image, detail: {"title" => row[:title]})
        root.links.drop_all(row[:id], entry)
        root.worked_out.record_changed(root.schema.kind!(row[:kind]), image, {}, cause.at)
        root.timers.forget(row[:id])
        db[:records].where(id: row[:id]).delete
      end

      def put_back(action, image, run, cause)
        free = db[:records].where(id: image["id"]).empty? && root.list_entries.of(image["about"].to_i, image["kind"]).empty?
        root.list_entries.put_back(image, cause: cause) if free
        item(run, action["title"], free, "it is on the list again already")
      end

      # A kit stops when nobody has worked on its tasks; these are dropped with the other tasks of the run.
      def kit(copy, run, cause)
        words = "Kit “#{root.kits.names([copy[:kit_id]])[copy[:kit_id]]}”"
        worked = db[:tasks].where(copy_id: copy[:id]).where { (Sequel[:open] =~ false) | (Sequel[:version] > 1) }.get(:title)
        db[:kit_copies].where(id: copy[:id], state: "running").update(state: "stopped", ended_at: cause.at) unless worked
        item(run, words, worked.nil?, "“#{worked}” was worked on; stop the kit on the record instead")
      end

      def logged(action, did, run)
        found = db[:interactions].where(id: did["interaction"], edited_at: nil)
        item(run, action["title"], found.delete.positive?, "it was changed since, or is gone")
      end

      def changed_task(one, run, cause)
        title = db[:tasks].where(id: one["id"]).get(:title)
        item(run, "Task “#{title}”: back to what it was", root.tasks.put_back(one, cause: cause), "somebody has changed it since")
      end
    end
  end
end
