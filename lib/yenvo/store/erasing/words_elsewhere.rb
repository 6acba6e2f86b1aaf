# frozen_string_literal: true

module Yenvo
  module Store
    # Takes the words of a record that is erased out of what was written about others: those that were ever linked with
    # it, up to three links away, since so far texts of rules reach.
    class WordsElsewhere < Base
      AT_ONCE = 200
      # Tables by record: plain texts, and JSON.
      OF_RECORD = {
        journal: [[], %i[detail]], runs: [%i[why], %i[tests actions]],
        deliveries: [%i[to subject answer back words], %i[content]], proposals: [[], %i[task message]],
        notices: [%i[text], []], letters: [%i[sender name subject reason], []],
        arrivals: [%i[source event_id reason], %i[body fields]],
        attachments: [%i[name], []], timers: [[], %i[data]],
        bulk_rows: [%i[reason], %i[did]]
      }.freeze
      OF_TASK = {comments: [%i[text], []], attachments: [%i[name], []]}.freeze
      # Tables by what names an address, whatever they are about.
      ADDRESSED = {
        deliveries: [%i[to subject answer back words], %i[content]], letters: [%i[sender name subject reason], []],
        arrivals: [%i[source event_id reason], %i[body fields]], import_refusals: [[], %i[cells problems]],
        imports: [[], %i[looked]], bulk_changes: [[], %i[value]]
      }.freeze
      TASK = %i[title text note location web_link].freeze
      private_constant :OF_RECORD, :OF_TASK, :ADDRESSED, :TASK

      # @param words [Core::ErasedWords]
      # @param kind [String] of what is erased
      def initialize(root, words, kind)
        super(root)
        @words = words
        @kind = kind
      end

      # @param ids [Array<Integer>] records that were ever linked with it
      def take_out(ids) = (ids.each_slice(AT_ONCE) { |some| of_records(some) } if @words.sieve)

      # Takes the words out of what is about no record, such as mails to people of the house and what was refused, and
      # out of all that names one of some mail addresses.
      # @param addresses [Array<String>]
      def take_out_addresses(addresses)
        db[:returned].where(address: addresses.map(&:downcase)).delete
        about_nobody if @words.sieve
        named = Core::ErasedWords.new(addresses).sieve or return
        ADDRESSED.each { |name, columns| rewrite(name, db[name], *columns, sieve: named) }
      end

      private

      def about_nobody
        ADDRESSED.each do |name, columns|
          found = OF_RECORD.key?(name) ? db[name].where(record_id: nil) : db[name]
          rewrite(name, found, *columns)
        end
        rewrite_all(db[:doors], db[:doors], [], [:sample], :key)
      end

      def of_records(ids)
        OF_RECORD.each { |name, columns| rewrite(name, db[name].where(record_id: ids), *columns) }
        rewrite(:delivery_tries, db[:delivery_tries].where(delivery_id: delivered(ids)), [:answer], [])
        rewrite(:notices, db[:notices].where(words_of: ids), [:text], [])
        of_tasks(root.task_rows.about(ids))
        notes(ids)
        trash(ids)
        fillings(ids)
        rewrite(:merges, db[:merges].where(kept_id: ids), [], [:changed])
        images(:journal, db[:journal].where(record_id: ids), :id, %i[before after])
        images(:merged, merged(ids), :id, [:image])
        living(ids)
      end

      def of_tasks(tasks)
        rewrite_all(tasks, tasks, TASK, [], :id)
        OF_TASK.each { |name, columns| rewrite(name, db[name].where(task_id: tasks.select(:id)), *columns) }
      end

      def trash(ids)
        found = db[:trash].where(record_id: ids)
        rewrite_all(found, db[:trash], [:title], [:hanging], :record_id)
        images(:trash, found, :record_id, [:image])
      end

      def merged(ids)
        kinds = db[:merges].select(Sequel[:id].as(:merge), :kind)
        db[:merged].where(kept_id: ids).join(kinds, merge: :merge_id)
      end

      def fillings(ids) =
        rewrite_all(db[:fillings].where(attachment_id: files_of(ids)), db[:fillings], [], [:body], :attachment_id)

      def files_of(ids) = root.attachments.of_all(ids).select(:id)
      def delivered(ids) = db[:deliveries].where(record_id: ids).select(:id)

      def rewrite(name, found, plain, json, sieve: @words.sieve, &told)
        rewrite_all(found, db[name], plain, json, :id, sieve:, &told)
      end

      # What is not written any more finds nothing any more.
      def notes(ids)
        found = db[:interactions].where(record_id: ids)
        rewrite(:interactions, found, %i[text], %i[letter]) { |was, is| root.search_words.note_changed(was, is) }
      end

      # @param found [Sequel::Dataset] rows that are looked through
      # @param into [Sequel::Dataset] where they stand
      def rewrite_all(found, into, plain, json, key, sieve: @words.sieve)
        all = Sequel.function(:concat_ws, "\n", *plain, *json)
        sieved = found.where(Sequel.lit("? REGEXP ?", all, sieve)).select(key, *plain, *json)
        sieved.all.each do |row|
          fresh = row.slice(*plain).transform_values { |text| @words.out_of(text) }
          fresh.merge!(row.slice(*json).transform_values { |text| anew(text) })
          changed = fresh.reject { |name, text| text == row[name] }
          into.where(key => row[key]).update(changed) if changed.any?
          yield(row, row.merge(changed)) if block_given? && changed.any?
        end
      end

      def anew(text) = text && dump(@words.out_of_all(JSON.parse(text)))

      # How records were.
      # @param found [Sequel::Dataset] rows with their kind
      def images(name, found, key, columns)
        all = Sequel.function(:concat_ws, "\n", *columns)
        found.where(Sequel.lit("? REGEXP ?", all, @words.sieve)).select(key, :kind, *columns).all.each do |row|
          type = schema.kind(row[:kind])
          fresh = row.slice(*columns).compact.transform_values { |text| dump(without(type, load(text))) }
          db[name].where(key => row[key]).update(fresh)
        end
      end

      # Records that are there: their texts, and in the index by which they are found.
      def living(ids)
        rows = db[:records].where(id: ids).where(Sequel.lit("CONCAT_WS('\\n', title, fields) REGEXP ?", @words.sieve))
        rows.select(*Image::COLUMNS).order(:id).for_update.all.each do |row|
          type = schema.kind(row[:kind]) or next
          before = Image.of(row)
          after = without(type, before)
          next if after == before

          db[:records].where(id: row[:id]).update(Image.columns(after).slice(:title, :fields))
          found_by.each { |one| one.record_changed(type, before, after, nil, nil) }
        end
      end

      def found_by = [root.unique_values, root.record_index, root.search_words]

      # @param type [Core::Schema::Kind, nil] nil for one of a list that is gone
      def without(type, image) =
        image.to_h { |key, value| [key, left(type, type&.field(key), value)] }.compact

      # A mail address or phone that another of the same kind has is its own. What takes an address takes no words. Of a
      # field that is gone nobody knows what it was.
      def left(type, field, value)
        return @words.out_of_all(value) unless field
        return value if !field.textual? || (OWN.include?(field.type) && type.key == @kind)

        emptied(field, @words.out_of(value))
      end

      def emptied(field, text) = (text == Core::Blanked::GONE && ADDRESSES.include?(field.type)) ? nil : text
      OWN = %w[email phone].freeze
      ADDRESSES = [*OWN, "url"].freeze
      private_constant :OWN, :ADDRESSES
    end
  end
end
