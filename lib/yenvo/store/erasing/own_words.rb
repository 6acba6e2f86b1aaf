# frozen_string_literal: true

module Yenvo
  module Store
    # Takes every word out of what was kept about records that are erased. That something happened, when and by whom,
    # stays, and so do figures and what may run once.
    class OwnWords < Base
      GONE = Core::Blanked::GONE
      EMPTY = {"to" => GONE, "subject" => GONE, "text" => GONE}.freeze
      # Columns of rows about a record to what stands in them afterwards.
      PLAIN = {
        runs: {why: "What it ran for was erased."},
        letters: {sender: GONE, name: nil, subject: GONE, reason: nil},
        arrivals: {source: "", event_id: "", body: "{}", fields: nil, reason: nil},
        import_rows: {changed: nil}, bulk_rows: {did: nil, reason: nil},
        deliveries: {to: GONE, subject: GONE, content: JSON.generate(EMPTY), secret: true, answer: nil, back: nil,
                     words: nil},
        waiting: {last_error: nil}
      }.freeze
      # Columns in which texts stand in JSON.
      SAID = {journal: %i[detail], runs: %i[tests actions]}.freeze
      AUDIT = "took out a file of what was erased since"
      private_constant :GONE, :EMPTY, :PLAIN, :SAID, :AUDIT

      # @param ids [Array<Integer>] records
      def blank(ids, at:)
        tasks = root.task_rows.blank(ids)
        db[:comments].where(task_id: tasks).delete
        root.attachments.forget(ids)
        messages(db[:deliveries].where(record_id: ids), at)
        proposals(db[:proposals].where(record_id: ids), at)
        PLAIN.each { |name, columns| db[name].where(record_id: ids).update(columns) }
        SAID.each { |name, columns| each_row(name, ids, columns) { |value| Core::Blanked.said(value) } }
        each_row(:journal, ids, %i[before after]) { |image| Core::Blanked.image(image) }
        db[:notices].where(Sequel.|({record_id: ids}, {words_of: ids})).delete
        root.imports.forget_of(ids)
        root.merges.forget_of(ids)
        audit(ids.map { |id| "record #{id}" } + tasks.map { |id| "task #{id}" })
      end

      private

      # What waits to leave does not leave any more.
      def messages(mine, at)
        mine.where(state: "waiting").update(state: "stopped", settled_at: at, held_till: nil)
        ids = mine.select(:id)
        db[:delivery_tries].where(delivery_id: ids).update(answer: GONE)
        db[:returned].where(delivery_id: ids).update(words: GONE)
      end

      # What waits to be sent off is thrown away.
      def proposals(mine, at)
        mine.where(state: "open").update(state: Proposals::THROWN, settled_at: at)
        %i[task message].each { |name| mine.exclude(name => nil).update(name => "{}") }
      end

      def audit(about)
        db.run("SET @yenvo_erasing = 1")
        about.each_slice(500) { |some| db[:audit].where(about: some, what: "taken_out").update(words: AUDIT) }
      ensure
        db.run("SET @yenvo_erasing = NULL")
      end

      # @yieldparam value [Object] of JSON
      # @yieldreturn [Object]
      def each_row(name, ids, columns)
        db[name].where(record_id: ids).select(:id, *columns).each do |row|
          texts = row.slice(*columns).compact
          changed = texts.transform_values { |text| dump(yield(load(text))) }.reject { |key, text| text == texts[key] }
          db[name].where(id: row[:id]).update(changed) if changed.any?
        end
      end
    end
  end
end
