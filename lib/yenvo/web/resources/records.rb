# frozen_string_literal: true

module Yenvo
  module Web
    # Contacts, deals, tickets and list entries.
    class Records < Base
      get "/?" do
        query = RecordQuery.read(params, sight.access.schema, now:).with(sight:)
        page = root.lists.page(query)
        body = {rows: present.records(page[:rows], query.kind), next: page[:next] && RecordQuery.token(page[:next])}
        body[:count] = root.lists.count(query) unless query.after
        answer 200, body
      end

      # How many match, however many that are.
      get "/count" do
        query = RecordQuery.read(params.except("after"), sight.access.schema, now:).with(sight:)
        answer 200, {count: root.lists.count(query, limit: Store::BulkChanges::MOST)}
      end

      # The same as a table, all pages of it.
      get "/table" do
        query = RecordQuery.read(params.except("after"), sight.access.schema, now:).with(sight:, limit: TABLE_PAGE)
        kind = sight.access.schema.kind!(query.kind)
        fields = columns(kind)
        give_table(kind.plural, present.record_heads(fields)) do |after|
          page = root.lists.page(query.with(after:))
          [present.record_cells(page[:rows], fields), page[:next]]
        end
      end

      # Contacts as cards, narrowed as the list is.
      get "/cards" do
        query = RecordQuery.read(params.except("after"), sight.access.schema, now:).with(sight:, limit: TABLE_PAGE)
        unless query.kind == Core::Form::PERSON
          raise Store::Refused.at("kind" => "Cards are of contacts; take others out as CSV.")
        end

        taken_out("took out contacts as cards", "cards")
        stream_out("#{sight.access.schema.kind!(query.kind).plural}.vcf", ContactCards::TYPE, cards(query))
      end
      TABLE_PAGE = 500
      private_constant :TABLE_PAGE

      post "/?" do
        may.make!(body_of_call["kind"])
        fits!(body_of_call["kind"])
        told = []
        image = root.records.make(body_of_call["kind"], body_of_call["values"], cause:, told:)
        answer 201, {**present.record(image, body_of_call["kind"]), set_by: present.set_by(told)}
      end

      # What may be the same as one that is about to be made.
      post "/alike" do
        kind = sight.access.schema.kind(body_of_call["kind"]) || raise(Store::NotFound, "There is no such kind.")
        answer 200, {alike: Store::Alike.new(root, sight).to(kind, values)}
      end

      get "/:id" do
        row = sight.record!(id)
        image = Store::Image.of(row)
        answer 200,
          {
            record: present.record(image, row[:kind]), linked: present.linked(around),
            linked_count: root.links.count_around(id, sight:), tasks: present.tasks(root.worklist.of_record(id)),
            open_tasks: root.worklist.count_of_record(id), history: history.of_record(id),
            stage_days: present.working_days_since(image["stage_since"])
          }
      end

      patch "/:id" do
        told = []
        image =
          root.transaction do
            # Whose it is does not change from here on.
            root.records.lock(id)
            fits!(changing!(id)[:kind], root.records.find!(id))
            root.records.change(id, values, cause:, version: body_of_call["version"], whole: true, told:)
          end
        answer 200, {**present.record(image, root.records.row!(id)[:kind]), set_by: present.set_by(told)}
      end

      # What the rules and kits will do to it if nothing changes.
      get "/:id/ahead" do
        sight.record!(id)
        looking = Engine::LookingAhead.new(root, now:)
        found = looking.on(id, days: (number("days") || 60).clamp(1, 180))
        answer 200, present.ahead(found, watching: looking.watching)
      end

      # The same if something of it were another, and what is new and gone then.
      post "/:id/ahead" do
        sight.record!(id)
        looking = Engine::LookingAhead.new(root, now:)
        before, after = looking.compared(id, days: body_of_call["days"], change:, who: person[:key])
        answer 200, present.ahead(after, watching: looking.watching, before:)
      end

      get "/:id/history" do
        sight.record!(id)
        answer 200, {entries: history.of_record(id, before: number("before"))}
      end

      post "/:id/interactions" do
        sight.record!(id)
        image = root.interactions.log(id, body_of_call["way"], body_of_call["text"], at: when_it_was, cause:)
        answer 201, present.record(image, root.records.row!(id)[:kind])
      end

      get("/:id/interactions") do
        sight.record!(id)
        answer 200,
          {
            interactions: present.interactions(root.interactions.of_record(id, before: number("before"))),
            count: root.interactions.count_of(id)
          }
      end

      patch "/:id/interactions" do
        sight.record!(id)
        row = root.interactions.edit(body_of_call["interaction"], body_of_call["text"], record: id, cause:)
        answer 200, {interactions: present.interactions([row]), count: root.interactions.count_of(id)}
      end

      post "/:id/lists" do
        sight.record!(id)
        may.make!(body_of_call["list"]) if root.schema.kind(body_of_call["list"])
        root.list_entries.put_on(id, body_of_call["list"], section: body_of_call["section"], cause:)
        answer 201, {linked: present.linked(around)}
      end

      get("/:id/files") { answer 200, {files: present.files(record_id: sight.record!(id)[:id])} }

      post "/:id/files" do
        changing!(id)
        root.attachments.add({record_id: id}, params["name"], env["yenvo.bytes"], cause:)
        answer 201, {files: present.files(record_id: id)}
      end

      delete "/files/:id" do
        record = changing!(of_record![:record_id])
        root.attachments.remove(id, cause:)
        answer 200, {files: present.files(record_id: record[:id])}
      end

      # A file is given out to be kept, never to be shown within Yenvo.
      get "/files/:id" do
        record = sight.record!(of_record![:record_id])
        row, path = root.printing.open(id, now:)
        taken_out("took out the file “#{row[:name]}” of “#{record[:title]}”", "record #{record[:id]}")
        give_out(row, path)
      end

      # What goes along when it is taken away.
      get("/:id/hanging") { answer 200, root.trash.hanging(sight.record!(id)[:id]) }

      # What was taken away and can be brought back.
      get "/:id/trash" do
        row = in_trash!
        answer 200,
          {
            **row.slice(:title, :kind, :by),
            at: Core::Reading.moment(row[:at]),
            until: Core::Reading.moment(Store::Trash.ends(row))
          }
      end

      post "/:id/trash" do
        row = in_trash!
        may.take_away!(row)
        answer 200, present.record(root.trash.put_back(id, cause:), row[:kind])
      end

      # Takes it away, with what hangs on it.
      delete "/:id" do
        may.take_away!(sight.record!(id))
        root.trash.remove(id, cause:)
        answer 200, {taken_away: true}
      end

      delete "/:id/lists" do
        may.take_away!(sight.record!(id))
        root.list_entries.take_off(id, cause:)
        answer 200, {taken_off: true}
      end

      post "/:id/links" do
        changing!(id)
        sight.record!(body_of_call["target"])
        root.links.add(id, body_of_call["target"], cause:)
        answer 201, {linked: present.linked(around)}
      end

      # More of what is linked, behind a record.
      get("/:id/links") do
        answer 200, {linked: present.linked(around(after: number("after")))}
      end

      delete "/:id/links" do
        changing!(id)
        sight.record!(body_of_call["target"])
        root.links.remove(id, body_of_call["target"], cause:)
        answer 200, {linked: present.linked(around)}
      end

      private

      # @return [Array<Core::Schema::Field>] those that were chosen, or all
      def columns(kind)
        chosen = params["columns"].to_s.split(",").filter_map { |key| kind.field(key) }
        chosen.empty? ? kind.fields.values : chosen
      end

      def cards(query)
        kind = sight.access.schema.kind!(query.kind)
        ContactCards.new(kind) do |after|
          page = root.lists.page(query.with(after:))
          cells = present.field_cells(page[:rows], kind.own_fields)
          [page[:rows], cells, page[:next]]
        end
      end

      WHEN = Core::Schema::Field.of("at", "When it was", "datetime").freeze
      private_constant :WHEN

      # @return [Time, nil] nil for just now
      def when_it_was
        text = Core::Reading.value(WHEN, body_of_call["at"], root.schema)
        text && Core::Reading.time(text)
      rescue Core::Unreadable => error
        raise Store::Refused.at("at" => error.message)
      end

      def values = body_of_call["values"]

      # @raise [Store::NotFound] also for a file of a task, and of a record that is hidden
      def of_record! =
        root.attachments.find!(id).tap do |row|
          Store::Attachments.missing unless row[:record_id] && sight.record?(row[:record_id])
        end

      def history = Store::History.new(root, sight)

      # @return [Array<Hash>] what is linked to the record, as far as it is seen
      def around(after: nil) = root.links.around(sight.record!(id)[:id], sight:, after:)

      # @return [Hash] row of a record that is to be changed
      # @raise [Store::NotFound, Forbidden]
      def changing!(id) = sight.record!(id).tap { |row| may.change!(row) }

      # @return [Hash] row of what was taken away
      # @raise [Store::NotFound] also when it is hidden
      def in_trash!
        row = root.trash.find!(id)
        kind = root.schema.kind(row[:kind])
        seen = row[:by] == person[:key] || kind.nil? || sight.access.may?(:seen_by, kind, row[:owner])
        seen ? row : raise(Store::NotFound, Store::Trash::NOTHING)
      end

      # Fields that are kept, and records that are hidden, are as if they were not there.
      # @param before [Hash] image of the record as it is
      # @raise [Store::Refused]
      def fits!(kind, before = {})
        type = sight.access.schema.kind(kind) or return
        unknown = values.keys.reject { |key| type.field(key) }
        wrong = unknown.to_h { |key| [key, Store::Records.no_field(type, key)] }
        links = type.links.to_h { |field| [field, Integer(values[field.key], exception: false)] }.compact
        seen = sight.records(links.values)
        links.each do |field, target|
          next if seen.include?(target) || before[field.key] == target

          wrong[field.key] = Store::Records.no_target(field, target)
        end
        raise Store::Refused.at(wrong) if wrong.any?
      end

      # What the record is thought to become, read like anything that is typed.
      def change
        kind = sight.access.schema.kind!(sight.record!(id)[:kind])
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
