# frozen_string_literal: true

module Yenvo
  module Store
    # Notes, calls, e-mails, letters and meetings logged on a record. Each sets last contact, but a note, which is
    # nobody's contact.
    class Interactions < Part
      WAYS = %w[note call email letter meeting].freeze

      # @param way [String] one of WAYS
      # @param text [String]
      # @return [Hash] image of the record after it
      # @raise [Refused]
      def log(record_id, way, text, cause:)
        field = Core::Schema::Field.of("text", "What was said", "long_text")
        plain = read(field, text)
        raise Refused.at("way" => "Choose what it was: #{WAYS.join(", ")}.") unless WAYS.include?(way)

        root.transaction do
          db[:interactions].insert(record_id: record_id, way: way, text: plain, who: cause.who, at: cause.at)
          detail = {"way" => way, "text" => plain}
          next noted(record_id, cause, detail) if way == "note"

          root.records.touch(record_id, at: cause.at, cause: cause, what: "interaction_logged", detail: detail)
        rescue Sequel::ForeignKeyConstraintViolation
          raise NotFound, "There is no record #{record_id}; it may have been removed."
        end
      end

      private

      def read(field, text)
        plain = Core::Reading.value(field, text, root.schema)
        plain || raise(Refused.at("text" => "Write what was said before you log it."))
      rescue Core::Unreadable => error
        raise Refused.at("text" => error.message)
      end

      def noted(record_id, cause, detail)
        row = root.records.lock(record_id)
        root.journal.add("interaction_logged", cause, record_id: record_id, kind: row[:kind], detail: detail)
        Image.of(row)
      end
    end
  end
end
