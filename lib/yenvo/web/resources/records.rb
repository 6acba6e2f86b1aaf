# frozen_string_literal: true

module Yenvo
  module Web
    # Contacts, deals, tickets and list entries.
    class Records < Base
      get "/?" do
        query = RecordQuery.read(params, root.schema, now:)
        page = root.lists.page(query)
        body = {rows: present.records(page[:rows], query.kind), next: page[:next] && RecordQuery.token(page[:next])}
        body[:count] = root.lists.count(query) unless query.after
        answer 200, body
      end

      post "/?" do
        told = []
        image = root.records.make(body_of_call["kind"], body_of_call["values"], cause:, told:)
        answer 201, {**present.record(image, body_of_call["kind"]), set_by: told}
      end

      get "/:id" do
        row = root.records.row!(id)
        image = Store::Image.of(row)
        answer 200,
          {
            record: present.record(image, row[:kind]), linked: present.linked(root.links.around(id)),
            linked_count: root.links.count_around(id), tasks: present.tasks(root.worklist.of_record(id)),
            open_tasks: root.worklist.count_of_record(id), history: root.history.of_record(id),
            stage_days: present.working_days_since(image["stage_since"])
          }
      end

      patch "/:id" do
        told = []
        image =
          root.records.change(id, body_of_call["values"], cause:, version: body_of_call["version"], whole: true, told:)
        answer 200, {**present.record(image, root.records.row!(id)[:kind]), set_by: told}
      end

      # What the rules and kits will do to it if nothing changes.
      get "/:id/ahead" do
        looking = Engine::LookingAhead.new(root, now:)
        found = looking.on(id, days: (number("days") || 60).clamp(1, 180))
        answer 200, present.ahead(found, watching: looking.watching)
      end

      # The same if something of it were another, and what is new and gone then.
      post "/:id/ahead" do
        looking = Engine::LookingAhead.new(root, now:)
        before, after = looking.compared(id, days: body_of_call["days"], change:, who: person[:key])
        answer 200, present.ahead(after, watching: looking.watching, before:)
      end

      get("/:id/history") { answer 200, {entries: root.history.of_record(id, before: number("before"))} }

      post "/:id/interactions" do
        image = root.interactions.log(id, body_of_call["way"], body_of_call["text"], cause:)
        answer 201, present.record(image, root.records.row!(id)[:kind])
      end

      get("/:id/interactions") do
        answer 200,
          {
            interactions: present.interactions(root.interactions.of_record(id, before: number("before"))),
            count: root.interactions.count_of(id)
          }
      end

      patch "/:id/interactions" do
        row = root.interactions.edit(body_of_call["interaction"], body_of_call["text"], record: id, cause:)
        answer 200, {interactions: present.interactions([row]), count: root.interactions.count_of(id)}
      end

      post "/:id/lists" do
        root.list_entries.put_on(id, body_of_call["list"], section: body_of_call["section"], cause:)
        answer 201, {linked: present.linked(root.links.around(id))}
      end

      # What goes along when it is taken away.
      get("/:id/hanging") { answer 200, root.trash.hanging(root.records.row!(id)[:id]) }

      # What was taken away and can be brought back.
      get "/:id/trash" do
        row = root.trash.find!(id)
        answer 200,
          {
            **row.slice(:title, :kind, :by),
            at: Core::Reading.moment(row[:at]),
            until: Core::Reading.moment(row[:at] + (Store::Trash::DAYS * 86_400))
          }
      end

      post "/:id/trash" do
        row = root.trash.find!(id)
        may.take_away!(row)
        answer 200, present.record(root.trash.put_back(id, cause:), row[:kind])
      end

      delete "/:id/lists" do
        may.take_away!(root.records.row!(id))
        root.list_entries.take_off(id, cause:)
        answer 200, {taken_off: true}
      end

      post "/:id/links" do
        root.links.add(id, body_of_call["target"], cause:)
        answer 201, {linked: present.linked(root.links.around(id))}
      end

      # More of what is linked, behind a record.
      get("/:id/links") do
        answer 200, {linked: present.linked(root.links.around(root.records.row!(id)[:id], after: number("after")))}
      end

      delete "/:id/links" do
        root.links.remove(id, body_of_call["target"], cause:)
        answer 200, {linked: present.linked(root.links.around(id))}
      end

      private

      # What the record is thought to become, read like anything that is typed.
      def change
        kind = root.schema.kind!(root.records.row!(id)[:kind])
        wrong = {}
        plain =
          body_of_call["change"].to_h do |key, value|
            [key, Core::Reading.value(root.records.settable!(kind, key), value, root.schema)]
          rescue Core::Unreadable => error
            wrong[key] = error.message
            [key, nil]
          end
        raise Store::Refused.at(wrong) if wrong.any?

        plain
      end
    end
  end
end
