# frozen_string_literal: true

module Yenvo
  module Store
    # Finds the contact of an e-mail for whatever comes in from outside, so that of two at once only one makes it.
    class ContactByMail < Base
      # Holds it to the end of the caller's transaction.
      def hold(email, now:) = root.held_names.hold("contact #{RecordIndex.word(email)}", now:)

      # @param field [String] key of the field of contacts
      # @return [Hash, nil] image of the oldest of those with that e-mail
      def find(field, email)
        word = RecordIndex.word(email)
        index = db[:record_index].where(kind: Core::Form::PERSON, field:, empty: false, num: 0, word:)
        images = root.records.images(index.order(:record_id).limit(50).select_map(:record_id))
        images.sort.map(&:last).find { |image| image[field].to_s.casecmp?(email) }
      end
    end
  end
end
