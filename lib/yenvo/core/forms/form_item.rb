# frozen_string_literal: true

module Yenvo
  module Core
    # One thing that a form asks. ask: "title" or the key of a field of the record, "contact:" and the key of one of the
    # contact, or "files"; label and help: the form's own words; required: whether it has to be answered; field: the
    # Schema::Field with that label, nil for files.
    FormItem =
      Value.define(:ask, :label, :field, help: nil, required: false) do
        def contact? = ask.start_with?(self.class::CONTACT)
        def files? = ask == self.class::FILES

        # @return [String] key of the field
        def key = ask.delete_prefix(self.class::CONTACT)

        # @return [String] how it is answered, a type of a field or "files"
        def type = field ? field.type : self.class::FILES

        # @param given [String, Array<String>, nil] as a visitor's browser sends it
        # @return [Object, nil] the plain form
        # @raise [Unreadable]
        def read(given, schema)
          given = Array(given).reject(&:empty?) if type == "choices"
          value = Reading.value(field, given, schema)
          raise Unreadable, "#{label} has to be filled in." if required && value.nil?

          value
        end
      end

    FormItem::CONTACT = "contact:"
    FormItem::FILES = "files"
    # Types of fields that a visitor can fill in. Persons and records of the house are none of theirs.
    FormItem::TYPES = %w[text long_text number money date datetime yes_no choice choices email phone url].freeze
  end
end
