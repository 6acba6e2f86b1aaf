# frozen_string_literal: true

module Yenvo
  module Store
    # Makes what a mail to an address of the house is for: the record, and the sender's contact where it leads to one.
    class NewByLetter < Base
      DOOR = "mail"

      # @param row [Hash] of the address
      def initialize(root, row, cause)
        super(root)
        @row = row
        @cause = cause
      end

      # @param letter [Core::Letter]
      # @return [Integer] id of the record
      # @raise [Refused]
      def make(letter)
        door = door()
        root.contact_by_mail.hold(letter.sender, now: @cause.at) if door.finder
        contact = contact(door, letter) if door.link || door.of_contact?
        return contact || add(door.kind, door.record(letter)) if door.of_contact?

        linked = contact ? {door.link.key => contact} : {}
        add(door.kind, {**door.record(letter), **linked})
      end

      private

      def door
        door, problems = root.mail_doors.read(@row)
        refuse("kind", "The list that mail to #{@row[:address]} is for was taken away.") unless door
        refuse("door", "#{@row[:address]} has to be mended: #{problems[0].where} #{problems[0].text}.") if problems.any?
        door
      end

      # @return [Integer, nil]
      def contact(door, letter)
        found = root.contact_by_mail.find(door.finder.key, letter.sender)
        found ? found["id"] : new_contact(door, letter)
      end

      def new_contact(door, letter) =
        (add(door.person, door.person_values(letter)) if door.link && door.make_contact)

      def add(kind, values) = root.records.make(kind.key, {"owner" => nil, **values}, cause: @cause, came:)["id"]
      def came = {"door" => DOOR, "through" => @row[:key]}
    end
  end
end
