# frozen_string_literal: true

module Yenvo
  module Core
    # What becomes of a mail to an address of the house that answers none of its mails. kind: Schema::Kind of the record
    # that it makes; text: Schema::Field that takes what was written, or nil; link: Schema::Field that leads to the
    # sender's contact, or nil; person: Schema::Kind of contacts, nil where there is none; make_contact: whether one is
    # made where there is none with that e-mail; fixed: Hash of fields to plain values.
    MailDoor =
      Value.define(:kind, :text, :link, :person, :make_contact, :fixed) do
        # @return [Boolean] whether what it makes is itself the contact
        def of_contact? = kind.key == person&.key

        # @return [Schema::Field, nil] of contacts, by which the sender's is found
        def finder = person&.own_fields&.find { |field| field.type == "email" && !field.worked_out? }

        # @param letter [Letter]
        # @return [Hash] plain values of the record, but for the link
        def record(letter)
          return {**person_values(letter), **fixed} if of_contact?

          said = text ? {text.key => letter.text[0, Reading::MAX_LONG_TEXT]} : {}
          {"title" => letter.about[0, 200], **said, **fixed}.reject { |_, value| value == "" }
        end

        # @return [Hash] plain values of a contact that is made of the sender
        def person_values(letter) = {"title" => (letter.name || letter.sender)[0, 200], finder.key => letter.sender}

        # @return [Set<String>] what it leans on in the set-up, as in Uses
        def uses
          Set["kind #{kind.key}", *[text, link].compact.map { |field| use_of(field) }] | fixed_uses(kind, fixed)
        end

        def use_of(field) = "field #{kind.key} #{field.key}"
        private :use_of

        include FixedValues
      end
  end
end
