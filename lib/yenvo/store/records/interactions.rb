# frozen_string_literal: true

module Yenvo
  module Store
    # Notes, calls, e-mails, letters and meetings logged on a record. Each sets last contact, but a note, which is
    # nobody's contact.
    class Interactions < Base
      keeps :interactions

      LOGGED = "interaction_logged"
      WAYS = %w[note call email letter meeting].freeze

      # @param way [String] one of WAYS
      # @param text [String]
      # @param letter [Hash, nil] of a mail that came in: sender, name, subject, folded, files, left_out and answers
      # @param at [Time, nil] when it was, if not just now
      # @return [Hash] image of the record after it
      # @raise [Refused]
      def log(record_id, way, text, cause:, letter: nil, at: nil)
        plain = read(text)
        check_moment(at, cause.at) if at
        refuse("way", "Choose what it was: #{WAYS.join(", ")}.") unless WAYS.include?(way)

        root.transaction do
          # First of all: the row that is inserted leads to the record, and to take that lock afterwards would be a
          # deadlock for two who log at once.
          row = root.records.lock(record_id)
          columns = {record_id:, way:, text: plain, who: cause.who, at: at || cause.at, run_id: cause.run}
          id = table.insert(**columns, written_at: at && cause.at, letter: dump(letter))
          root.search_words.note_changed(nil, {id:, text: plain, letter: dump(letter)})
          detail = {"way" => way, "text" => plain, **letter.to_h.slice("sender", "name", "subject", "answers")}
          detail["was_at"] = Core::Reading.moment(at) if at
          next noted(row, cause, detail) if way == "note"

          root.records.touch(record_id, at: at || cause.at, cause:, what: LOGGED, detail:)
        end
      end

      # Takes back what a run logged.
      # @param row [Hash]
      def take_back(row)
        there = table.where(id: row[:id]).for_update.first or return
        table.where(id: row[:id]).delete
        root.search_words.note_changed(there, nil)
      end

      # Changes the text of a note or other interaction. Who wrote it may; codes that it had before do not count again.
      # @return [Hash] the row
      # @raise [Refused, NotFound]
      # @param record [Integer] on which it stands
      def edit(id, text, record:, cause:)
        plain = read(text)
        root.transaction do
          row = find!(id)
          raise NotFound, "There is no note #{id} on this record." unless row[:record_id] == record
          refuse("text", "A mail that came in stays as it was written.") if row[:letter]
          unless row[:who] == cause.who
            refuse("text", "Only #{schema.name_of(row[:who])}, who wrote it, can change this note.")
          end

          about = root.records.lock(record)
          # As it is behind the lock.
          row = find!(id)
          table.where(id:).update(text: plain, edited_at: cause.at)
          root.search_words.note_changed(row, row.merge(text: plain))
          detail = {"way" => row[:way], "text" => plain, "was" => row[:text]}
          root.journal.add_about("note_edited", cause, about, detail, image: Image.of(about))
          find!(id)
        end
      end

      # Years back to which something is written down.
      YEARS = 20

      def check_moment(at, now)
        refuse("at", "It cannot have been after now.") if at > now
        refuse("at", "That is more than #{YEARS} years ago; look at the year.") if at < now - (YEARS * 366 * 86_400)
      end
      private :check_moment

      SAID = Core::Schema::Field.of("text", "What was said", "long_text").freeze
      private_constant :SAID

      # @raise [NotFound]
      def find!(id) =
        table.where(id:).first || raise(NotFound, "There is no note #{id}; it may have been taken back.")

      PAGE = 30

      # @param before [Integer, nil] id to go on from
      # @return [Array<Hash>] the last that was first, by its own moment
      def of_record(id, before: nil, limit: PAGE)
        found = table.where(record_id: id).order(Sequel.desc(:at), Sequel.desc(:id)).limit(limit)
        last = before && table.where(id: before).get(:at)
        (last ? found.where { (at < last) | ((at =~ last) & (Sequel[:id] < before)) } : found).all
      end

      # @return [Integer]
      def count_of(id) = table.where(record_id: id).count

      private

      def read(text)
        plain = Core::Reading.value(SAID, text, schema)
        plain || raise(Refused.at("text" => "Write what was said before you log it."))
      rescue Core::Unreadable => error
        refuse("text", error.message)
      end

      def noted(row, cause, detail)
        image = Image.of(row)
        root.journal.add_about(LOGGED, cause, row, detail, image:)
        image
      end
    end
  end
end
