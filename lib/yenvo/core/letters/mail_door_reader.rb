# frozen_string_literal: true

module Yenvo
  module Core
    # Reads what an address for mail makes, from its plain form, and says all that is wrong with it.
    class MailDoorReader
      include FixedValues

      # @param plain [Hash] see docs/mail.md
      # @param kind [Schema::Kind]
      # @return [Array(MailDoor, Array<Problem>)]
      def self.read(plain, kind, schema) = new(plain, kind, schema).read

      def initialize(plain, kind, schema)
        @plain = plain
        @kind = kind
        @schema = schema
        @person = schema.kind(Form::PERSON)
        @problems = []
      end

      def read
        door = MailDoor.new(kind: @kind, person: @person, text:, link:, make_contact:, fixed:)
        whole(door)
        [door, @problems]
      end

      private

      def wrong(path, text) = (@problems << Problem.at(Array(path), text)) && nil
      def make_contact = @plain["make_contact"] == true

      def text
        key = @plain["text"] or return
        field = @kind.field(key)
        return field if field&.type == "long_text" && !field.worked_out?

        wrong("text", "must be a field of #{@kind.plural} that takes long texts")
      end

      def link
        key = @plain["contact"] or return
        field = @kind.field(key)
        return field if @person && field&.type == "link" && field.leads_to?(@person) && !field.worked_out?

        wrong("contact", "must be a field of #{@kind.plural} that leads to a contact")
      end

      def whole(door)
        wrong("contact", "must be left out, since contacts have no e-mail to be found by") if door.link && !door.finder
        given = [*door.fixed.keys, door.text&.key, (door.link&.key if door.make_contact)]
        given << door.finder&.key if door.of_contact?
        required(@kind, "fixed", given)
        required(@person, "make_contact", [door.finder&.key]) if door.link && door.make_contact
      end

      # A record that lacks what every one of its kind has to have would be refused each time.
      def required(kind, path, given)
        lacks = kind.own_fields.select { |field| field.required && field.default.nil? && !given.include?(field.key) }
        return if lacks.empty?

        names = lacks.map(&:label).join(", ")
        wrong(path, "must not leave out what #{kind.plural.downcase} have to have: #{names}")
      end
    end
  end
end
